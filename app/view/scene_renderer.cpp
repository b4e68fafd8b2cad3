#include "app/view/scene_renderer.h"

#include <QMatrix4x4>
#include <QVector3D>
#include <algorithm>
#include <array>
#include <unordered_set>

#include "app/view/shaders.h"

namespace pivrak {
namespace {

QMatrix4x4 to_qt(const Mat4& m) {
    QMatrix4x4 out;
    for (int r = 0; r < 4; ++r)
        for (int c = 0; c < 4; ++c) out(r, c) = static_cast<float>(m(r, c));
    return out;
}

QMatrix3x3 to_qt3(const Mat3& m) {
    QMatrix3x3 out;
    for (int r = 0; r < 3; ++r)
        for (int c = 0; c < 3; ++c) out(r, c) = static_cast<float>(m(r, c));
    return out;
}

QVector3D to_vector(const QColor& c) {
    return {c.redF(), c.greenF(), c.blueF()};
}

/// The number of a program for faces is a sum of these.
constexpr std::size_t surfaced = 1, pictured = 2, alone = 3;

/// A shader with something defined.
QByteArray with(QByteArray text, const char* defined) {
    return text.insert(text.indexOf('\n') + 1, QByteArray("#define ") + defined + "\n");
}

void build(QOpenGLShaderProgram& program, const QByteArray& vertex, const QByteArray& fragment) {
    program.addShaderFromSourceCode(QOpenGLShader::Vertex, vertex);
    program.addShaderFromSourceCode(QOpenGLShader::Fragment, fragment);
    program.link();
}

/// Shadows cost a second pass over every triangle; beyond this they are left out.
constexpr std::size_t most_shadow_triangles = 400000;

/// What is smaller than half of this is no more than a dot.
constexpr double smallest_px = 0.4;

}  // namespace

SceneRenderer::SceneRenderer(QOpenGLExtraFunctions& gl) : gl_(gl), instances_(gl) {
    build(background_, shaders::full_view, shaders::background);
    build(grid_, shaders::floor_vertex, shaders::floor_fragment);
    build(lines_, shaders::line_vertex, shaders::plain_fragment);
    build(shadow_, shaders::shadow_vertex, shaders::plain_fragment);
    build(shadow_alone_, with(shaders::shadow_vertex, "ALONE"), shaders::plain_fragment);
    for (std::size_t i = 0; i < faces_.size(); ++i) {
        FaceProgram& faces = faces_[i];
        QByteArray vertex(shaders::shape_vertex), fragment(shaders::shape_fragment);
        if (i >= alone) vertex = with(vertex, "ALONE");
        if (i % alone >= surfaced) fragment = with(fragment, "SURFACE");
        if (i % alone == pictured) fragment = with(fragment, "PICTURED");
        build(faces.program, vertex, fragment);
        faces.base = faces.program.uniformLocation("base");
        faces.tint_amount = faces.program.uniformLocation("tintAmount");
        faces.opacity = faces.program.uniformLocation("opacity");
        faces.clip_from_mesh = faces.program.uniformLocation("clipFromMesh");
        faces.view_from_mesh = faces.program.uniformLocation("viewFromMesh");
    }
    gl_.glGenVertexArrays(1, &empty_array_);
}

QOpenGLTexture* SceneRenderer::picture_of(const SurfacePaint::Use& use) {
    if (!use.bytes) return nullptr;
    Picture& picture = pictures_[use.bytes.get()];
    if (!picture.bytes) {
        picture.bytes = use.bytes;
        const QImage image = QImage::fromData(use.bytes->data(), static_cast<int>(use.bytes->size()));
        if (!image.isNull()) {
            picture.texture =
                std::make_unique<QOpenGLTexture>(image.convertToFormat(QImage::Format_RGBA8888));
            picture.texture->setMinMagFilters(QOpenGLTexture::LinearMipMapLinear, QOpenGLTexture::Linear);
        }
    }
    if (!picture.texture) return nullptr;
    const auto wrap = [](int way) {
        return way == PictureUse::clamp    ? QOpenGLTexture::ClampToEdge
               : way == PictureUse::mirror ? QOpenGLTexture::MirroredRepeat
                                           : QOpenGLTexture::Repeat;
    };
    picture.texture->setWrapMode(QOpenGLTexture::DirectionS, wrap(use.how.wrap_s));
    picture.texture->setWrapMode(QOpenGLTexture::DirectionT, wrap(use.how.wrap_t));
    return picture.texture.get();
}

void SceneRenderer::set_surface(QOpenGLShaderProgram& program, const SurfacePaint& surface) {
    program.setUniformValue("metallic", surface.metallic);
    program.setUniformValue("roughness", surface.roughness);
    program.setUniformValue("lit", surface.unlit ? 0.0f : 1.0f);
    program.setUniformValue("glow", to_vector(surface.glow));
}

void SceneRenderer::set_pictures(QOpenGLShaderProgram& program, const SurfacePaint& surface, double opacity) {
    if (!white_) {
        QImage image(1, 1, QImage::Format_RGBA8888);
        image.fill(Qt::white);
        white_ = std::make_unique<QOpenGLTexture>(image);
    }
    QVector4D has;
    std::array<QMatrix3x3, 4> lies;
    std::array<GLfloat, 4> second{};
    for (std::size_t i = 0; i < surface.pictures.size(); ++i) {
        const SurfacePaint::Use& use = surface.pictures[i];
        QOpenGLTexture* picture = picture_of(use);
        (picture ? *picture : *white_).bind(static_cast<uint>(i));
        if (!picture) continue;
        has[static_cast<int>(i)] = i == SurfacePaint::Bumps ? static_cast<float>(use.how.strength) : 1.0f;
        second[i] = static_cast<GLfloat>(use.how.coords);
        // Scaled, then turned, then moved, as KHR_texture_transform has it.
        const double c = std::cos(use.how.turn_rad), s = std::sin(use.how.turn_rad);
        Mat3 lie;
        lie << c * use.how.scale[0], s * use.how.scale[1], use.how.offset[0], -s * use.how.scale[0],
            c * use.how.scale[1], use.how.offset[1], 0, 0, 1;
        lies[i] = to_qt3(lie);
    }
    program.setUniformValue("has", has);
    program.setUniformValueArray("lies", lies.data(), static_cast<int>(lies.size()));
    program.setUniformValueArray("second", second.data(), static_cast<int>(second.size()), 1);
    program.setUniformValue("opaque", static_cast<float>(opacity));
    program.setUniformValue("cutoff", surface.cutoff);
}

SceneRenderer::~SceneRenderer() {
    gl_.glDeleteVertexArrays(1, &empty_array_);
}

GpuMesh& SceneRenderer::on_card(const DrawItem& item) {
    auto& known = meshes_[item.mesh.get()];
    if (!known) known = std::make_unique<GpuMesh>(gl_, item.mesh, item.edges.get());
    return *known;
}

void SceneRenderer::drop_unused(const std::vector<DrawItem>& items) {
    if (meshes_.size() <= 2 * items.size() + 64) return;
    std::unordered_set<const Mesh*> used;
    for (const DrawItem& item : items) used.insert(item.mesh.get());
    std::erase_if(meshes_, [&](const auto& entry) { return !used.contains(entry.first); });
    std::erase_if(pictures_, [](const auto& entry) { return entry.second.bytes.use_count() <= 1; });
}

void SceneRenderer::draw(const std::vector<DrawItem>& items, const Camera& camera, const Theme& theme,
                         const Options& options) {
    gl_.glViewport(0, 0, static_cast<GLsizei>(camera.width() * options.pixel_ratio),
                   static_cast<GLsizei>(camera.height() * options.pixel_ratio));
    gl_.glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT | GL_STENCIL_BUFFER_BIT);
    gl_.glEnable(GL_MULTISAMPLE_EXT);
    gl_.glDisable(GL_CULL_FACE);
    gl_.glBlendFunc(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA);
    const auto passed = [&](const char* pass) {
        if (!options.passed) return;
        gl_.glFinish();
        options.passed(pass);
    };
    passed("begin");
    draw_background(theme, camera);
    draw_grid(theme, camera, options.grid_step_m);
    passed("ground");
    Mat4 world_from_middle = Mat4::Identity();
    world_from_middle.topRightCorner<3, 1>() = camera.target;
    clip_from_middle_ = camera.clip_from_world() * world_from_middle;
    view_from_world_ = camera.view_from_world().topLeftCorner<3, 3>();
    middle_ = camera.target;
    Mat4 clip_from_pixel = Mat4::Identity();
    clip_from_pixel.diagonal() << 2 / (camera.width() * options.pixel_ratio),
        2 / (camera.height() * options.pixel_ratio), 2, 1;
    clip_from_pixel.topRightCorner<3, 1>() = Vec3(-1, -1, -1);
    view_from_pixel_ = camera.clip_from_view().inverse() * clip_from_pixel;
    instances_.arrange(items, seen(items, camera), middle_);
    if (options.error_px > 0) allow_errors(items, camera, options);
    passed("sorting");
    if (options.shadow) draw_shadow(camera, theme);
    passed("shadow");
    draw_shapes(theme);
    passed("shapes");
    if (options.edges) draw_edges(theme, options.pixel_ratio);
    passed("lines");
    gl_.glBindVertexArray(0);
    drop_unused(items);
}

/// By the ball about each: whether it reaches into the picture, and how many pixels it covers there. Its
/// shadow may be seen where it is not: it falls up to half its height aside.
std::vector<std::size_t> SceneRenderer::seen(const std::vector<DrawItem>& items, const Camera& camera) {
    const Mat4 clip = camera.clip_from_world();
    std::array<Eigen::Vector4d, 4> sides;
    for (int k = 0; k < 4; ++k) {
        sides[static_cast<std::size_t>(k)] =
            clip.row(3).transpose() + (k % 2 ? -1.0 : 1.0) * clip.row(k / 2).transpose();
        sides[static_cast<std::size_t>(k)] /= sides[static_cast<std::size_t>(k)].head<3>().norm();
    }
    std::vector<std::pair<double, std::size_t>> by_depth;
    for (std::size_t i = 0; i < items.size(); ++i) {
        const GpuMesh& mesh = on_card(items[i]);
        const Vec3 middle = items[i].world_from_mesh.point(mesh.middle());
        const double radius = mesh.radius() * items[i].world_from_mesh.size,
                     reach = radius + 0.4 * std::max(0.0, middle.z() + radius);
        if (radius > smallest_px * camera.metres_per_pixel(middle) &&
            std::ranges::all_of(sides, [&](const Eigen::Vector4d& side) {
                return side.head<3>().dot(middle) + side[3] > -reach;
            }))
            by_depth.emplace_back(-camera.back().dot(middle) - radius, i);
    }
    std::ranges::sort(by_depth);
    std::vector<std::size_t> seen;
    seen.reserve(by_depth.size());
    for (const auto& [depth, i] : by_depth) seen.push_back(i);
    return seen;
}

void SceneRenderer::draw_background(const Theme& theme, const Camera& camera) {
    gl_.glDisable(GL_DEPTH_TEST);
    gl_.glDisable(GL_BLEND);
    background_.bind();
    background_.setUniformValue("top", to_vector(theme.groundTop));
    background_.setUniformValue("horizon", to_vector(theme.groundHorizon));
    background_.setUniformValue("bottom", to_vector(theme.groundBottom));
    // Far away in the direction of sight the floor ends.
    const Vec3 far =
        camera.eye() - 1e4 * camera.distance * Vec3(camera.back().x(), camera.back().y(), 0).normalized();
    const double horizon = camera.perspective
                               ? 1.0 - camera.project(Vec3(far.x(), far.y(), 0)).y() / camera.height()
                               : 0.5 + camera.elevation;
    background_.setUniformValue("horizonHeight", static_cast<float>(std::clamp(horizon, -1.0, 2.0)));
    gl_.glBindVertexArray(empty_array_);
    gl_.glDrawArrays(GL_TRIANGLES, 0, 3);
}

void SceneRenderer::draw_grid(const Theme& theme, const Camera& camera, double step_m) {
    gl_.glEnable(GL_BLEND);
    grid_.bind();
    const double reach = 12 * camera.distance;
    grid_.setUniformValue("clipFromWorld", to_qt(camera.clip_from_world()));
    grid_.setUniformValue("centre", static_cast<float>(camera.target.x()),
                          static_cast<float>(camera.target.y()));
    grid_.setUniformValue("reach", static_cast<float>(reach));
    grid_.setUniformValue("stepLength", static_cast<float>(step_m));
    grid_.setUniformValue("lineColor", to_vector(theme.grid));
    gl_.glBindVertexArray(empty_array_);
    gl_.glDrawArrays(GL_TRIANGLE_STRIP, 0, 4);
}

void SceneRenderer::allow_errors(const std::vector<DrawItem>& items, const Camera& camera,
                                 const Options& options) {
    for (InstanceGroup& group : instances_.groups()) {
        if (group.like->mesh->triangle_count() * group.items.size() < options.coarser_from) continue;
        GpuMesh& mesh = on_card(*group.like);
        mesh.want_levels();
        double nearest = 1e300;
        for (const std::size_t i : group.items)
            nearest =
                std::min(nearest, camera.metres_per_pixel(items[i].world_from_mesh.point(mesh.middle())) /
                                      items[i].world_from_mesh.size);
        group.unseen_m = options.error_px * nearest;
    }
}

void SceneRenderer::draw_shadow(const Camera& camera, const Theme& theme) {
    std::size_t triangles = 0;
    for (const InstanceGroup& group : instances_.groups())
        triangles += on_card(*group.like).triangle_count(group.unseen_m) * group.items.size();
    if (triangles > most_shadow_triangles || camera.elevation < 0) return;
    gl_.glEnable(GL_STENCIL_TEST);
    gl_.glStencilFunc(GL_EQUAL, 0, 0xFF);
    gl_.glStencilOp(GL_KEEP, GL_KEEP, GL_INCR);
    for (QOpenGLShaderProgram* shadow : {&shadow_, &shadow_alone_}) {
        const bool of_one = shadow == &shadow_alone_;
        shadow->bind();
        shadow->setUniformValue("clipFromWorld", to_qt(clip_from_middle_));
        shadow->setUniformValue("floorHeight", static_cast<float>(-camera.target.z()));
        shadow->setUniformValue("flatColor", QVector4D(0.05f, 0.12f, 0.14f, theme.night ? 0.32f : 0.13f));
        const int world_from_mesh = of_one ? shadow->uniformLocation("worldFromMesh") : -1;
        for (const InstanceGroup& group : instances_.groups()) {
            if (group.like->measure || group.like->lifted || group.like->pale > 0 ||
                group.is_alone() != of_one)
                continue;
            if (of_one)
                shadow->setUniformValue(world_from_mesh, to_qt(middle_from_mesh(*group.like, middle_)));
            on_card(*group.like).draw_all_faces(instances_, group, group.unseen_m);
        }
    }
    gl_.glDisable(GL_STENCIL_TEST);
}

void SceneRenderer::draw_shapes(const Theme& theme) {
    gl_.glDisable(GL_BLEND);
    gl_.glEnable(GL_DEPTH_TEST);
    gl_.glDepthFunc(GL_LEQUAL);
    gl_.glEnable(GL_POLYGON_OFFSET_FILL);
    for (FaceProgram& faces : faces_) {
        faces.program.bind();
        faces.program.setUniformValue("tint", to_vector(theme.raspberryTint));
        const GLint units[] = {0, 1, 2, 3};
        faces.program.setUniformValueArray("pictures", units, 4);
        faces.program.setUniformValue("viewFromPixel", to_qt(view_from_pixel_));
        faces.program.setUniformValue("clipFromWorld", to_qt(clip_from_middle_));
        faces.program.setUniformValue("viewFromWorld", to_qt3(view_from_world_));
        const Vec3 up = view_from_world_.col(2);
        faces.program.setUniformValue("up", QVector3D(static_cast<float>(up.x()), static_cast<float>(up.y()),
                                                      static_cast<float>(up.z())));
    }
    bound_ = nullptr;
    for (const bool lifted : {false, true}) {
        gl_.glPolygonOffset(lifted ? -1.0f : 1.0f, lifted ? -2.0f : 1.0f);
        for (const InstanceGroup& group : instances_.groups())
            if (group.like->lifted == lifted && group.like->pale == 0) draw_group(group);
    }
    // Over what stands there, and never in its way.
    gl_.glEnable(GL_BLEND);
    gl_.glDepthMask(GL_FALSE);
    for (const InstanceGroup& group : instances_.groups())
        if (group.like->pale > 0) draw_group(group);
    gl_.glDepthMask(GL_TRUE);
    gl_.glDisable(GL_BLEND);
    gl_.glDisable(GL_POLYGON_OFFSET_FILL);
}

void SceneRenderer::paint_with(const InstanceGroup& group, std::size_t submesh) {
    const DrawItem& item = *group.like;
    const Paint& paint = *item.paint;
    const SurfacePaint* surface = submesh < paint.surfaces.size() && !paint.surfaces[submesh].is_plain()
                                      ? &paint.surfaces[submesh]
                                      : nullptr;
    const bool has_pictures = surface && surface->is_pictured();
    FaceProgram& faces = faces_[(has_pictures ? pictured
                                 : surface    ? surfaced
                                              : 0) +
                                (group.is_alone() ? alone : 0)];
    if (bound_ != &faces) faces.program.bind();
    bound_ = &faces;
    const QColor& color = paint.colors[std::min(submesh, paint.colors.size() - 1)];
    if (surface) set_surface(faces.program, *surface);
    if (has_pictures) set_pictures(faces.program, *surface, color.alphaF());
    faces.program.setUniformValue(faces.tint_amount, item.selected ? 0.45f : 0.0f);
    faces.program.setUniformValue(faces.opacity, item.pale > 0 ? static_cast<float>(item.pale) / 100 : 1.0f);
    faces.program.setUniformValue(faces.base, to_vector(color));
    if (!group.is_alone()) return;
    const Mat4 at = middle_from_mesh(item, middle_);
    faces.program.setUniformValue(faces.clip_from_mesh, to_qt(clip_from_middle_ * at));
    faces.program.setUniformValue(faces.view_from_mesh, to_qt3(view_from_world_ * at.topLeftCorner<3, 3>()));
}

void SceneRenderer::draw_group(const InstanceGroup& group) {
    const DrawItem& item = *group.like;
    const GpuMesh& mesh = on_card(item);
    const bool all_alike = item.paint->colors.size() == 1 && item.paint->surfaces.empty();
    if (item.first_indices || all_alike || item.mesh->submeshes.empty()) {
        paint_with(group, 0);
        item.first_indices ? mesh.draw_first_faces(instances_, group, *item.first_indices)
                           : mesh.draw_all_faces(instances_, group, group.unseen_m);
        return;
    }
    for (std::size_t s = 0; s < item.mesh->submeshes.size(); ++s) {
        paint_with(group, s);
        mesh.draw_submesh(instances_, group, s, group.unseen_m);
    }
}

void SceneRenderer::draw_edges(const Theme& theme, double width) {
    gl_.glEnable(GL_BLEND);
    lines_.bind();
    lines_.setUniformValue("lift", 2e-5f);
    lines_.setUniformValue("clipFromWorld", to_qt(clip_from_middle_));
    for (const InstanceGroup& group : instances_.groups()) {
        if (group.like->measure || group.like->lifted || group.like->pale > 0) continue;
        const bool selected = group.like->selected;
        const QColor color = selected ? theme.raspberry : theme.edge;
        gl_.glLineWidth(static_cast<float>((selected ? 1.6 : 1.0) * width));
        lines_.setUniformValue(
            "flatColor", QVector4D(color.redF(), color.greenF(), color.blueF(), selected ? 1.0f : 0.62f));
        on_card(*group.like).draw_edges(instances_, group);
    }
}

}  // namespace pivrak
