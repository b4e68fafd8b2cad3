#include "core/io/import/import_model.h"

#include <assimp/config.h>
#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <fmt/format.h>

#include <assimp/DefaultIOSystem.h>
#include <assimp/MemoryIOWrapper.h>
#include <algorithm>
#include <assimp/Importer.hpp>
#include <assimp/ProgressHandler.hpp>
#include <cmath>
#include <map>

#include "core/base/words.h"
#include "core/geometry/mesh/creases.h"
#include "core/io/import/gltf_surfaces.h"
#include "core/io/import/import_animation.h"
#include "core/io/import/import_formats.h"
#include "core/io/import/import_materials.h"
#include "core/io/import/import_scene.h"
#include "core/io/import/import_vertices.h"
#include "core/io/import/obj_objects.h"

namespace pivrak {

const unsigned import_flags = aiProcess_Triangulate | aiProcess_JoinIdenticalVertices | aiProcess_SortByPType;

namespace {

/// Passes assimp's reading on to our progress; its answer stops the reading.
class ReadingProgress : public Assimp::ProgressHandler {
public:
    explicit ReadingProgress(const Progress& progress) : progress_(progress) {}
    bool Update(float fraction) override {
        // Reading takes about three quarters of the whole.
        if (!progress_.go_on(0.75 * std::clamp(static_cast<double>(fraction), 0.0, 1.0), "reading the file"))
            cancelled_ = true;
        return !cancelled_;
    }
    bool cancelled() const { return cancelled_; }

private:
    const Progress& progress_;
    bool cancelled_ = false;
};

/// Files as they are, but for one whose bytes are given.
class OneFileGiven : public Assimp::DefaultIOSystem {
public:
    OneFileGiven(const std::filesystem::path& path, const std::string& bytes) : path_(path), bytes_(bytes) {}
    Assimp::IOStream* Open(const char* file, const char* mode) override {
        if (path_ != file) return DefaultIOSystem::Open(file, mode);
        return new Assimp::MemoryIOStream(reinterpret_cast<const std::uint8_t*>(bytes_.data()),
                                          bytes_.size());
    }

private:
    std::filesystem::path path_;
    const std::string& bytes_;
};

/// Rotation from the file's axes to ours.
Mat3 core_from_file_axes(char up) {
    Mat3 turn = Mat3::Identity();
    if (up == 'y') turn << 0, 0, 1, 1, 0, 0, 0, 1, 0;
    return turn;
}

/// Turns one assimp scene into parts of one document.
class SceneReader {
public:
    SceneReader(const aiScene& scene, const std::filesystem::path& path, const ModelFormat& format,
                const GltfSurfaces* surfaces, const ObjNames* names, const Document& document,
                const Progress& progress)
        : scene_(scene),
          path_(path),
          names_(names),
          progress_(progress),
          linear_colors_(format.linear_colors),
          out_{document, {}, {}},
          materials_(scene, path_, format.linear_colors, surfaces, out_.document, out_.messages) {}

    Result<ImportOutcome> read(const ImportOptions& options, const ModelFormat& format,
                               std::optional<double> stated) {
        const std::optional<double> known = options.metres_per_unit ? options.metres_per_unit
                                            : stated                ? stated
                                                                    : format.metres_per_unit;
        const char up = options.up.value_or(format.up);
        file_scale_ = known.value_or(0) > 0 ? *known : guessed_scale();
        axes_.core_from_file.setIdentity();
        core_from_file_axes_ = core_from_file_axes(up);
        axes_.core_from_file.topLeftCorner<3, 3>() = file_scale_ * core_from_file_axes_;
        // Own axes of the parts are turned along, so that they stand as the world's do.
        axes_.file_from_core.setIdentity();
        axes_.file_from_core.topLeftCorner<3, 3>() = core_from_file_axes_.transpose();
        out_.document.sources.push_back(
            {std::filesystem::absolute(path_).lexically_normal().string(), file_scale_, up});
        PIVRAK_CHECK(read_nodes());
        if (triangles_ == 0)
            return Error{"import.nothing", fmt::format("'{}' holds no triangle", path_.filename().string()),
                         path_.string()};
        PIVRAK_CHECK(read_animations(scene_, axes_, part_of_, out_, progress_));
        tell_left_out();
        return std::move(out_);
    }

private:
    double guessed_scale() {
        Bounds bounds;
        for (unsigned m = 0; m < scene_.mNumMeshes; ++m)
            for (unsigned v = 0; v < scene_.mMeshes[m]->mNumVertices; ++v) {
                const aiVector3D& p = scene_.mMeshes[m]->mVertices[v];
                if (std::isfinite(p.x) && std::isfinite(p.y) && std::isfinite(p.z))
                    bounds.add(Vec3(p.x, p.y, p.z));
            }
        const double longest = bounds.longest();
        const double scale = longest > 1000 ? 1e-3 : longest > 100 ? 1e-2 : 1.0;
        out_.messages.push_back(
            fmt::format("the file gives no unit; its longest side of {:.6g} is read as {}: {}", longest,
                        scale == 1e-3   ? "millimetres"
                        : scale == 1e-2 ? "centimetres"
                                        : "metres",
                        format_length(longest * scale, out_.document)));
        return scale;
    }

    struct Pending {
        FoundNode found;
        PartId parent;
        Mat4 file_world;
        Frame parent_world;
        std::string path;
    };

    Result<void> read_nodes() {
        // A root that readers make up is no part of a path: whether there is one depends on the file's
        // others.
        const aiNode& root = *scene_.mRootNode;
        std::vector<Pending> pending{{{&root, text_of(root.mName.C_Str()), {}},
                                      PartId{},
                                      Mat4::Identity(),
                                      Frame{},
                                      is_made_up(root) ? "" : "/" + text_of(root.mName.C_Str())}};
        if (const auto only = only_below(root)) {
            pending.front().found = *only;
            pending.front().path = "/" + only->name;
            pending.front().file_world = matrix_of(root.mTransformation);
        }
        std::size_t done = 0;
        while (!pending.empty()) {
            const Pending at = std::move(pending.back());
            pending.pop_back();
            if (++done % 256 == 0 && !progress_.go_on(0.75, "reading parts")) return cancelled();
            PIVRAK_TRY(below, add_part(at));
            std::map<std::string, int> uses;
            std::vector<Pending> children;
            for (FoundNode& child : found_below(at.found)) {
                const int use = ++uses[child.name];
                const std::string path =
                    at.path + "/" + child.name + (use > 1 ? fmt::format("#{}", use) : "");
                children.push_back(
                    {std::move(child), below.parent, below.file_world, below.parent_world, path});
            }
            std::move(children.rbegin(), children.rend(), std::back_inserter(pending));
        }
        return {};
    }

    /// The nodes that a node carries.
    std::vector<FoundNode> found_below(const FoundNode& found) {
        if (names_ && found.node == scene_.mRootNode) {
            std::size_t empty = 0;
            auto objects = obj_objects(*scene_.mRootNode, *names_, empty);
            if (empty > 0)
                out_.messages.push_back(fmt::format("{} without a face left out", counted(empty, "object")));
            return objects;
        }
        if (!found.below.empty()) return found.below;
        std::vector<FoundNode> below;
        for (unsigned c = 0; c < found.node->mNumChildren; ++c) {
            const aiNode* child = found.node->mChildren[c];
            below.push_back({child, text_of(child->mName.C_Str()), {}});
        }
        return below;
    }

    /// What a made-up root carries where it would only say the same again: one node, called as the file is.
    std::optional<FoundNode> only_below(const aiNode& root) {
        if (!is_made_up(root) || !names_) return std::nullopt;
        std::size_t empty = 0;
        auto objects = obj_objects(root, *names_, empty);
        if (objects.size() != 1 || empty > 0 || objects.front().name != path_.stem().string())
            return std::nullopt;
        return objects.front();
    }

    Error cancelled() const {
        return {"import.cancelled", "cancelled; the project is as it was", path_.string()};
    }

    Result<Pending> add_part(const Pending& at) {
        const aiNode& node = *at.found.node;
        const Mat4 file_world = at.file_world * matrix_of(node.mTransformation);
        if (!file_world.allFinite())
            return Error{"import.not_finite",
                         fmt::format("node '{}' has a place that is not a finite number", at.found.name),
                         at.found.name};
        const RigidSplit split = split_rigid(axes_.core_from_file * file_world * axes_.file_from_core);
        Part part;
        part.id = out_.document.new_id<PartId>();
        part.name = node_name(at.found);
        part.parent = at.parent;
        part.parent_from_rest = (at.parent_world.inverse() * split.frame).normalized();
        part.origin.source = static_cast<std::uint32_t>(out_.document.sources.size());
        part.origin.node = at.path;
        part.origin.world_from_node = split.frame;
        if (node.mNumMeshes > 0) {
            PIVRAK_TRY(shape, shape_of(at.found, split.stretch * core_from_file_axes_));
            part.shape = shape;
            note_stretch(split.stretch, part.origin);
        }
        out_.document.parts.set(part);
        out_.parts.push_back(part.id);
        part_of_[&node] = part.id;
        return Pending{at.found, part.id, file_world, split.frame, at.path};
    }

    void note_stretch(const Mat3& stretch, Origin& origin) const {
        for (int k = 0; k < 3; ++k) origin.stretch[k] = stretch.col(k).norm() / file_scale_;
        origin.mirrored = stretch.determinant() < 0;
        if ((origin.stretch - Vec3(1, 1, 1)).cwiseAbs().maxCoeff() < 1e-6) origin.stretch = Vec3(1, 1, 1);
    }

    bool is_made_up(const aiNode& node) const {
        const std::string name = text_of(node.mName.C_Str());
        return !node.mParent && node.mNumMeshes == 0 &&
               (name.empty() || name == "ROOT" || name.front() == '<' || name == path_.filename().string());
    }

    std::string node_name(const FoundNode& found) const {
        const bool is_root = !found.node->mParent;
        if (is_made_up(*found.node)) {
            const std::string stem = path_.stem().string();
            for (const FoundNode& child :
                 names_ ? obj_objects(*found.node, *names_) : std::vector<FoundNode>{})
                if (child.name == stem) return stem + " model";
            return stem;
        }
        // Paths of names are divided by slashes.
        std::string plain = found.name.empty() ? (is_root ? path_.stem().string() : "part") : found.name;
        std::replace(plain.begin(), plain.end(), '/', '-');
        return plain;
    }

    /// Nodes with the same meshes and the same stretch (to a millionth) show one shape.
    using ShapeKey = std::pair<std::vector<unsigned>, std::array<std::int64_t, 9>>;

    Result<ShapeId> shape_of(const FoundNode& found, const Mat3& stretch) {
        const aiNode& node = *found.node;
        ShapeKey key{{node.mMeshes, node.mMeshes + node.mNumMeshes}, {}};
        for (Eigen::Index i = 0; i < 9; ++i)
            key.second[static_cast<std::size_t>(i)] = std::llround(stretch.data()[i] / file_scale_ * 1e6);
        if (const auto known = shapes_.find(key); known != shapes_.end()) return known->second;
        Mesh mesh;
        for (const unsigned m : key.first) {
            PIVRAK_CHECK(append(*scene_.mMeshes[m], stretch, mesh));
            if (!progress_.go_on(0.8, "reading shapes")) return cancelled();
        }
        triangles_ += mesh.triangle_count();
        if (mesh.indices.empty()) return ShapeId{};
        if (mesh.normals.empty()) mesh = with_normals(mesh);
        const std::string name = mesh_name(*scene_.mMeshes[key.first.front()]);
        const ShapeId id = out_.document.new_id<ShapeId>();
        out_.document.shapes.set(make_shape(id, name.empty() ? found.name : name, std::move(mesh)));
        return shapes_[key] = id;
    }

    std::string mesh_name(const aiMesh& mesh) const {
        const ObjNames::Entry* entry = names_ ? names_->find(mesh.mName.C_Str()) : nullptr;
        return text_of(entry ? entry->name.c_str() : mesh.mName.C_Str());
    }

    Result<void> append(const aiMesh& source, const Mat3& stretch, Mesh& mesh) {
        if ((source.mPrimitiveTypes & aiPrimitiveType_TRIANGLE) == 0 || source.mNumFaces == 0) return {};
        const auto first = static_cast<std::uint32_t>(mesh.positions.size());
        PIVRAK_CHECK(append_vertices(source, mesh_name(source), stretch, linear_colors_, mesh));
        const bool mirrored = stretch.determinant() < 0;
        Submesh run{materials_.material(source.mMaterialIndex),
                    static_cast<std::uint32_t>(mesh.indices.size()), 0, mesh_name(source)};
        mesh.indices.reserve(mesh.indices.size() + std::size_t{source.mNumFaces} * 3);
        for (unsigned f = 0; f < source.mNumFaces; ++f) {
            const aiFace& face = source.mFaces[f];
            if (face.mNumIndices != 3) continue;
            for (int k = 0; k < 3; ++k) {
                const unsigned v = face.mIndices[mirrored ? 2 - k : k];
                if (v >= source.mNumVertices)
                    return Error{"import.index",
                                 fmt::format("mesh '{}', face {}: vertex {} of {}", mesh_name(source), f, v,
                                             source.mNumVertices),
                                 mesh_name(source)};
                mesh.indices.push_back(first + v);
            }
        }
        run.index_count = static_cast<std::uint32_t>(mesh.indices.size()) - run.first_index;
        if (run.index_count > 0) mesh.submeshes.push_back(std::move(run));
        return {};
    }

    /// What the reader knows but parts of a machine have no place for.
    void tell_left_out() {
        std::vector<std::string> left;
        if (scene_.mNumCameras > 0) left.push_back(counted(scene_.mNumCameras, "camera"));
        if (scene_.mNumLights > 0) left.push_back(counted(scene_.mNumLights, "light"));
        bool bones = false, targets = false;
        for (unsigned m = 0; m < scene_.mNumMeshes; ++m) {
            bones |= scene_.mMeshes[m]->HasBones();
            targets |= scene_.mMeshes[m]->mNumAnimMeshes > 0;
        }
        if (bones) left.push_back("soft weights");
        if (targets) left.push_back("morph targets");
        if (!left.empty()) out_.messages.push_back(fmt::format("left out: {}", fmt::join(left, ", ")));
    }

    const aiScene& scene_;
    const std::filesystem::path& path_;
    const ObjNames* names_;  ///< null where the reader's names are the file's
    const Progress& progress_;
    bool linear_colors_;
    ImportOutcome out_;
    MaterialReader materials_;
    double file_scale_ = 1;
    FileAxes axes_;
    Mat3 core_from_file_axes_;
    std::map<ShapeKey, ShapeId> shapes_;
    std::unordered_map<const aiNode*, PartId> part_of_;
    std::size_t triangles_ = 0;
};

}  // namespace

Result<ImportOutcome> import_model(const Document& document, const std::filesystem::path& path,
                                   const ImportOptions& options, const Progress& progress) {
    PIVRAK_TRY(format, model_format(path));
    PIVRAK_TRY(stated, check_model_file(path, format));
    std::optional<GltfSurfaces> surfaces;
    if (format.ending == ".gltf" || format.ending == ".glb") {
        PIVRAK_TRY(read, read_gltf_surfaces(path));
        surfaces = std::move(read);
    }
    std::optional<ObjNames> names;
    if (format.ending == ".obj") {
        PIVRAK_TRY(read, ObjNames::read(path));
        names = std::move(read);
    }
    Assimp::Importer importer;
    if (names && !names->empty())
        importer.SetIOHandler(new OneFileGiven(path, names->numbered()));  // the importer owns it
    if (surfaces && !surfaces->empty())
        importer.SetIOHandler(new OneFileGiven(path, surfaces->numbered));  // the importer owns it
    auto* handler = new ReadingProgress(progress);                          // the importer owns it
    importer.SetProgressHandler(handler);
    importer.SetPropertyInteger(AI_CONFIG_PP_SBP_REMOVE, aiPrimitiveType_POINT | aiPrimitiveType_LINE);
    // COLLADA nodes have a name for people beside their id.
    importer.SetPropertyBool(AI_CONFIG_IMPORT_COLLADA_USE_COLLADA_NAMES, true);
    const aiScene* scene = nullptr;
    std::string thrown;
    try {
        scene = importer.ReadFile(path.string(), import_flags);
    } catch (const std::exception& problem) {
        // Counts in a damaged header can ask for more memory than there is.
        thrown = problem.what();
    }
    if (handler->cancelled())
        return Error{"import.cancelled", "cancelled; the project is as it was", path.string()};
    if (!scene || !scene->mRootNode)
        return Error{"import.read",
                     fmt::format("'{}' cannot be read: {}", path.filename().string(),
                                 thrown.empty() ? text_of(importer.GetErrorString()) : thrown),
                     path.string()};
    auto read = SceneReader(*scene, path, format, surfaces ? &*surfaces : nullptr, names ? &*names : nullptr,
                            document, progress)
                    .read(options, format, stated);
    if (read) return read;
    // What is wrong inside a file is told with the file's name.
    Error error = read.error();
    const std::string file = path.filename().string();
    if (error.code != "import.cancelled" && error.message.find(file) == std::string::npos)
        error.message = fmt::format("'{}': {}", file, error.message);
    return error;
}

}  // namespace pivrak
