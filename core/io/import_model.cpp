#include "core/io/import_model.h"

#include <assimp/GltfMaterial.h>
#include <assimp/config.h>
#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <fmt/format.h>

#include <Eigen/SVD>
#include <algorithm>
#include <assimp/Importer.hpp>
#include <assimp/ProgressHandler.hpp>
#include <cmath>
#include <fstream>
#include <map>

#include "core/geometry/creases.h"
#include "core/io/atomic_file.h"
#include "core/io/glb_container.h"
#include "core/io/obj_check.h"

namespace pivrak {

const unsigned import_flags = aiProcess_Triangulate | aiProcess_JoinIdenticalVertices | aiProcess_SortByPType;

const std::vector<std::string>& import_endings() {
    static const std::vector<std::string> endings{".glb", ".obj"};
    return endings;
}

namespace {

using Affine = Eigen::Matrix<double, 3, 4>;

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

Mat4 to_matrix(const aiMatrix4x4& m) {
    Mat4 out;
    out << m.a1, m.a2, m.a3, m.a4, m.b1, m.b2, m.b3, m.b4, m.c1, m.c2, m.c3, m.c4, m.d1, m.d2, m.d3, m.d4;
    return out;
}

/// Rotation from the file's axes to ours.
Mat3 core_from_file_axes(char up) {
    Mat3 turn = Mat3::Identity();
    if (up == 'y') turn << 0, 0, 1, 1, 0, 0, 0, 1, 0;
    return turn;
}

/// A node's whole transform, divided into a rigid frame and what is left to go into the vertices.
struct RigidSplit {
    Frame frame;
    Mat3 stretch;  ///< frame-from-mesh, 3x3
};

/// Polar decomposition: the rotation nearest to the matrix. A mirrored matrix keeps its mirror in the
/// stretch.
RigidSplit split_rigid(const Mat4& world) {
    const Mat3 m = world.topLeftCorner<3, 3>();
    const Eigen::JacobiSVD<Mat3> svd(m, Eigen::ComputeFullU | Eigen::ComputeFullV);
    Mat3 rotation = svd.matrixU() * svd.matrixV().transpose();
    if (rotation.determinant() < 0) {
        Mat3 flip = Mat3::Identity();
        flip(2, 2) = -1;
        rotation = svd.matrixU() * flip * svd.matrixV().transpose();
    }
    const Quat turn = Quat(rotation).normalized();
    return {{turn, world.topRightCorner<3, 1>()}, turn.conjugate().toRotationMatrix() * m};
}

/// A picture's type by its first bytes; glTF knows these two.
std::string mime_type_of(const std::vector<unsigned char>& bytes) {
    if (bytes.size() > 8 && bytes[0] == 0x89 && bytes[1] == 'P') return "image/png";
    if (bytes.size() > 3 && bytes[0] == 0xFF && bytes[1] == 0xD8) return "image/jpeg";
    return "";
}

/// Turns one assimp scene into parts of one document.
class SceneReader {
public:
    SceneReader(const aiScene& scene, const std::filesystem::path& path, const Document& document,
                const Progress& progress)
        : scene_(scene), path_(path), progress_(progress), out_{document, {}, {}} {}

    Result<ImportOutcome> read(const ImportOptions& options) {
        const bool gltf = path_.extension() == ".glb";
        file_scale_ = options.metres_per_unit.value_or(gltf ? 1.0 : guessed_scale());
        core_from_file_.setIdentity();
        core_from_file_axes_ = core_from_file_axes(options.up.value_or('y'));
        core_from_file_.topLeftCorner<3, 3>() = file_scale_ * core_from_file_axes_;
        // Own axes of the parts are turned along, so that they stand as the world's do.
        file_from_core_.setIdentity();
        file_from_core_.topLeftCorner<3, 3>() = core_from_file_axes_.transpose();
        PIVRAK_CHECK(read_nodes());
        if (triangles_ == 0)
            return Error{"import.nothing", fmt::format("'{}' holds no triangle", path_.filename().string()),
                         path_.string()};
        out_.document.sources.push_back({std::filesystem::absolute(path_).lexically_normal().string()});
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
                        format_length(longest * scale)));
        return scale;
    }

    /// Read when first used: readers add materials of their own that nothing shows.
    MaterialId material(unsigned index) {
        const auto [known, added] = materials_.try_emplace(index);
        if (!added) return known->second;
        const aiMaterial& source = *scene_.mMaterials[index];
        Material m;
        m.id = out_.document.new_id<MaterialId>();
        m.name = source.GetName().C_Str();
        read_color(source, m);
        source.Get(AI_MATKEY_METALLIC_FACTOR, m.metallic);
        source.Get(AI_MATKEY_ROUGHNESS_FACTOR, m.roughness);
        source.Get(AI_MATKEY_TWOSIDED, m.double_sided);
        m.base_color_image = read_texture(source, m.name);
        out_.document.materials.set(m);
        known->second = m.id;
        return m.id;
    }

    static void read_color(const aiMaterial& source, Material& m) {
        aiColor4D color(0.8f, 0.8f, 0.8f, 1.f);
        const bool linear = source.Get(AI_MATKEY_BASE_COLOR, color) == AI_SUCCESS;
        if (!linear) source.Get(AI_MATKEY_COLOR_DIFFUSE, color);
        float opacity = color.a;
        if (!linear) source.Get(AI_MATKEY_OPACITY, opacity);
        // Older formats give colours as a screen shows them; glTF's are linear (sRGB, IEC 61966-2-1).
        const auto to_linear = [&](double c) {
            return linear ? c : c <= 0.04045 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4);
        };
        const auto unit = [](double c) { return std::isfinite(c) ? std::clamp(c, 0.0, 1.0) : 0.8; };
        m.base_color = {unit(to_linear(color.r)), unit(to_linear(color.g)), unit(to_linear(color.b)),
                        unit(opacity)};
    }

    ImageId read_texture(const aiMaterial& source, const std::string& material) {
        aiString name;
        if (source.GetTexture(aiTextureType_BASE_COLOR, 0, &name) != AI_SUCCESS &&
            source.GetTexture(aiTextureType_DIFFUSE, 0, &name) != AI_SUCCESS)
            return {};
        const std::string key = name.C_Str();
        if (const auto known = images_.find(key); known != images_.end()) return known->second;
        Image image;
        image.id = out_.document.new_id<ImageId>();
        auto bytes = texture_bytes(key, image.name);
        image.mime_type = mime_type_of(bytes);
        if (bytes.empty())
            out_.messages.push_back(fmt::format("texture '{}' of material '{}' was not found beside '{}'",
                                                image.name, material, path_.filename().string()));
        else if (image.mime_type.empty()) {
            out_.messages.push_back(
                fmt::format("texture '{}' is neither PNG nor JPEG and is left out", image.name));
            bytes.clear();
        }
        if (!bytes.empty())
            image.bytes = std::make_shared<const std::vector<unsigned char>>(std::move(bytes));
        out_.document.images.set(image);
        return images_[key] = image.id;
    }

    std::vector<unsigned char> texture_bytes(const std::string& key, std::string& name) const {
        if (const aiTexture* embedded = scene_.GetEmbeddedTexture(key.c_str())) {
            name = embedded->mFilename.length ? embedded->mFilename.C_Str() : key;
            if (embedded->mHeight != 0) return {};
            const auto* first = reinterpret_cast<const unsigned char*>(embedded->pcData);
            return {first, first + embedded->mWidth};
        }
        std::string relative = key;
        std::replace(relative.begin(), relative.end(), '\\', '/');
        name = std::filesystem::path(relative).filename().string();
        const auto bytes = read_file(path_.parent_path() / relative);
        if (!bytes) return {};
        return {bytes->begin(), bytes->end()};
    }

    struct Pending {
        const aiNode* node;
        PartId parent;
        Mat4 file_world;
        Frame parent_world;
    };

    Result<void> read_nodes() {
        std::vector<Pending> pending{{scene_.mRootNode, PartId{}, Mat4::Identity(), Frame{}}};
        std::size_t done = 0;
        while (!pending.empty()) {
            const Pending at = pending.back();
            pending.pop_back();
            if (++done % 256 == 0 && !progress_.go_on(0.75, "reading parts")) return cancelled();
            PIVRAK_TRY(child_base, add_part(at));
            for (unsigned c = at.node->mNumChildren; c-- > 0;)
                pending.push_back({at.node->mChildren[c], child_base.parent, child_base.file_world,
                                   child_base.parent_world});
        }
        return {};
    }

    Error cancelled() const {
        return {"import.cancelled", "cancelled; the project is as it was", path_.string()};
    }

    Result<Pending> add_part(const Pending& at) {
        const Mat4 file_world = at.file_world * to_matrix(at.node->mTransformation);
        if (!file_world.allFinite())
            return Error{
                "import.not_finite",
                fmt::format("node '{}' has a place that is not a finite number", at.node->mName.C_Str()),
                at.node->mName.C_Str()};
        const RigidSplit split = split_rigid(core_from_file_ * file_world * file_from_core_);
        Part part;
        part.id = out_.document.new_id<PartId>();
        part.name = node_name(*at.node);
        part.parent = at.parent;
        part.parent_from_rest = (at.parent_world.inverse() * split.frame).normalized();
        if (at.node->mNumMeshes > 0) {
            PIVRAK_TRY(shape, shape_of(*at.node, split.stretch * core_from_file_axes_));
            part.shape = shape;
        }
        out_.document.parts.set(part);
        out_.parts.push_back(part.id);
        return Pending{at.node, part.id, file_world, split.frame};
    }

    std::string node_name(const aiNode& node) const {
        const std::string name = node.mName.C_Str();
        const bool made_up = !node.mParent && node.mNumMeshes == 0 &&
                             (name.empty() || name == "ROOT" || name == path_.filename().string());
        if (made_up) return path_.stem().string();
        return name.empty() ? "part" : name;
    }

    /// Nodes with the same meshes and the same stretch (to a millionth) show one shape.
    using ShapeKey = std::pair<std::vector<unsigned>, std::array<std::int64_t, 9>>;

    Result<ShapeId> shape_of(const aiNode& node, const Mat3& stretch) {
        ShapeKey key{{node.mMeshes, node.mMeshes + node.mNumMeshes}, {}};
        for (Eigen::Index i = 0; i < 9; ++i)
            key.second[static_cast<std::size_t>(i)] = std::llround(stretch.data()[i] / file_scale_ * 1e6);
        if (const auto known = shapes_.find(key); known != shapes_.end()) return known->second;
        Mesh mesh;
        for (const unsigned m : key.first) PIVRAK_CHECK(append(*scene_.mMeshes[m], stretch, mesh));
        triangles_ += mesh.triangle_count();
        if (mesh.indices.empty()) return ShapeId{};
        if (mesh.normals.empty()) mesh = with_normals(mesh);
        const std::string name = scene_.mMeshes[key.first.front()]->mName.C_Str();
        const ShapeId id = out_.document.new_id<ShapeId>();
        out_.document.shapes.set(make_shape(id, name.empty() ? node.mName.C_Str() : name, std::move(mesh)));
        return shapes_[key] = id;
    }

    Result<void> append(const aiMesh& source, const Mat3& stretch, Mesh& mesh) {
        if ((source.mPrimitiveTypes & aiPrimitiveType_TRIANGLE) == 0) return {};
        const auto first = static_cast<std::uint32_t>(mesh.positions.size());
        PIVRAK_CHECK(append_vertices(source, stretch, mesh));
        const bool mirrored = stretch.determinant() < 0;
        mesh.submeshes.push_back(
            {material(source.mMaterialIndex), static_cast<std::uint32_t>(mesh.indices.size()), 0});
        mesh.indices.reserve(mesh.indices.size() + std::size_t{source.mNumFaces} * 3);
        for (unsigned f = 0; f < source.mNumFaces; ++f) {
            const aiFace& face = source.mFaces[f];
            if (face.mNumIndices != 3) continue;
            for (int k = 0; k < 3; ++k) {
                const unsigned v = face.mIndices[mirrored ? 2 - k : k];
                if (v >= source.mNumVertices)
                    return Error{"import.index",
                                 fmt::format("mesh '{}', face {}: vertex {} of {}", source.mName.C_Str(), f,
                                             v, source.mNumVertices),
                                 source.mName.C_Str()};
                mesh.indices.push_back(first + v);
            }
        }
        mesh.submeshes.back().index_count =
            static_cast<std::uint32_t>(mesh.indices.size()) - mesh.submeshes.back().first_index;
        return {};
    }

    Result<void> append_vertices(const aiMesh& source, const Mat3& stretch, Mesh& mesh) {
        const std::size_t first = mesh.positions.size(), count = source.mNumVertices;
        mesh.positions.resize(first + count);
        for (std::size_t v = 0; v < count; ++v) {
            const aiVector3D& p = source.mVertices[v];
            const Vec3f placed = (stretch * Vec3(p.x, p.y, p.z)).cast<float>();
            if (!placed.allFinite())
                return Error{"import.not_finite",
                             fmt::format("mesh '{}', vertex {}: ({}, {}, {}) is not a finite place",
                                         source.mName.C_Str(), v, p.x, p.y, p.z),
                             source.mName.C_Str()};
            mesh.positions[first + v] = placed;
        }
        append_normals(source, stretch, first, mesh);
        if (source.HasTextureCoords(0)) {
            mesh.uvs.resize(first + count, Vec2f(0, 0));
            // The reader turns pictures upside down against glTF, whose v runs downwards from the top.
            for (std::size_t v = 0; v < count; ++v)
                mesh.uvs[first + v] =
                    Vec2f(source.mTextureCoords[0][v].x, 1.f - source.mTextureCoords[0][v].y);
        } else if (!mesh.uvs.empty()) {
            mesh.uvs.resize(first + count, Vec2f(0, 0));
        }
        for (Vec2f& uv : mesh.uvs)
            if (!uv.allFinite()) uv = Vec2f(0, 0);
        return {};
    }

    /// Normals follow the inverse transpose of the stretch (a mirror turns them with the faces).
    static void append_normals(const aiMesh& source, const Mat3& stretch, std::size_t first, Mesh& mesh) {
        const std::size_t count = source.mNumVertices;
        if (!source.HasNormals() || (first > 0 && mesh.normals.empty())) {
            mesh.normals.clear();
            return;
        }
        // A stretch that flattens a part has no inverse; cofactors still give the right directions.
        Mat3 cofactor;
        cofactor.col(0) = stretch.col(1).cross(stretch.col(2));
        cofactor.col(1) = stretch.col(2).cross(stretch.col(0));
        cofactor.col(2) = stretch.col(0).cross(stretch.col(1));
        const double sign = stretch.determinant() < 0 ? -1 : 1;
        mesh.normals.resize(first + count);
        for (std::size_t v = 0; v < count; ++v) {
            const aiVector3D& n = source.mNormals[v];
            const Vec3 turned = sign * (cofactor * Vec3(n.x, n.y, n.z));
            const double length = turned.norm();
            mesh.normals[first + v] =
                std::isfinite(length) && length > 0 ? Vec3f((turned / length).cast<float>()) : Vec3f(0, 0, 1);
        }
    }

    const aiScene& scene_;
    const std::filesystem::path& path_;
    const Progress& progress_;
    ImportOutcome out_;
    double file_scale_ = 1;
    Mat4 core_from_file_, file_from_core_;
    Mat3 core_from_file_axes_;
    std::map<unsigned, MaterialId> materials_;
    std::map<std::string, ImageId> images_;
    std::map<ShapeKey, ShapeId> shapes_;
    std::size_t triangles_ = 0;
};

std::string lower_ending(const std::filesystem::path& path) {
    std::string ending = path.extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return std::tolower(c); });
    return ending;
}

/// What the reader itself would let pass or report in words that help nobody.
Result<void> check_file(const std::filesystem::path& path) {
    const std::string file = path.filename().string();
    const auto& known = import_endings();
    const std::string ending = lower_ending(path);
    if (std::find(known.begin(), known.end(), ending) == known.end())
        return Error{
            "import.format",
            fmt::format("'{}' is of no format read here: use glTF binary (.glb) or OBJ (.obj)", file),
            path.string()};
    PIVRAK_TRY(bytes, read_file(path));
    return ending == ".glb" ? check_glb_container(bytes, file) : check_obj_text(bytes, file);
}

}  // namespace

Result<ImportOutcome> import_model(const Document& document, const std::filesystem::path& path,
                                   const ImportOptions& options, const Progress& progress) {
    PIVRAK_CHECK(check_file(path));
    Assimp::Importer importer;
    auto* handler = new ReadingProgress(progress);  // the importer owns it
    importer.SetProgressHandler(handler);
    importer.SetPropertyInteger(AI_CONFIG_PP_SBP_REMOVE, aiPrimitiveType_POINT | aiPrimitiveType_LINE);
    const aiScene* scene = importer.ReadFile(path.string(), import_flags);
    if (handler->cancelled())
        return Error{"import.cancelled", "cancelled; the project is as it was", path.string()};
    if (!scene || !scene->mRootNode)
        return Error{
            "import.read",
            fmt::format("'{}' cannot be read: {}", path.filename().string(), importer.GetErrorString()),
            path.string()};
    return SceneReader(*scene, path, document, progress).read(options);
}

}  // namespace pivrak
