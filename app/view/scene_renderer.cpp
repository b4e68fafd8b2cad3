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

void build(QOpenGLShaderProgram& program, const char* vertex, const char* fragment) {
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
    build(faces_, shaders::shape_vertex, shaders::shape_fragment);
    build(lines_, shaders::line_vertex, shaders::plain_fragment);
    build(shadow_, shaders::shadow_vertex, shaders::plain_fragment);
    gl_.glGenVertexArrays(1, &empty_array_);
}

float SceneRenderer::bind_picture(const Paint& paint, std::size_t submesh) {
    const auto bytes = submesh < paint.pictures.size() ? paint.pictures[submesh] : nullptr;
    if (bytes) {
        Picture& picture = pictures_[bytes.get()];
        if (!picture.bytes) {
            picture.bytes = bytes;
            const QImage image = QImage::fromData(bytes->data(), static_cast<int>(bytes->size()));
            if (!image.isNull()) {
                picture.texture =
                    std::make_unique<QOpenGLTexture>(image.convertToFormat(QImage::Format_RGBA8888));
                picture.texture->setWrapMode(QOpenGLTexture::Repeat);
                picture.texture->setMinMagFilters(QOpenGLTexture::LinearMipMapLinear, QOpenGLTexture::Linear);
            }
        }
        if (picture.texture) {
            picture.texture->bind(0);
            return 1;
        }
    }
    if (!white_) {
        QImage image(1, 1, QImage::Format_RGBA8888);
        image.fill(Qt::white);
        white_ = std::make_unique<QOpenGLTexture>(image);
    }
    white_->bind(0);
    return 0;
}

SceneRenderer::~SceneRenderer() {
    gl_.glDeleteVertexArrays(1, &empty_array_);
}

GpuMesh& SceneRenderer::on_card(const std::shared_ptr<const Mesh>& mesh) {
    auto& known = meshes_[mesh.get()];
    if (!known) known = std::make_unique<GpuMesh>(gl_, mesh);
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
    instances_.arrange(items, seen(items, camera), camera.target);
    if (options.error_px > 0) allow_errors(items, camera, options);
    passed("sorting");
    if (options.shadow) draw_shadow(camera, theme);
    passed("shadow");
    draw_shapes(camera, theme);
    passed("shapes");
    if (options.edges) draw_edges(theme, options.pixel_ratio);
    passed("lines");
    gl_.glBindVertexArray(0);
    drop_unused(items);
}

/// By the ball about each: whether it reaches into the picture, and how many pixels it covers there. Its
/// shadow may be seen where it is not: it falls up to half its height aside.
std::vector<bool> SceneRenderer::seen(const std::vector<DrawItem>& items, const Camera& camera) {
    const Mat4 clip = camera.clip_from_world();
    std::array<Eigen::Vector4d, 4> sides;
    for (int k = 0; k < 4; ++k) {
        sides[static_cast<std::size_t>(k)] =
            clip.row(3).transpose() + (k % 2 ? -1.0 : 1.0) * clip.row(k / 2).transpose();
        sides[static_cast<std::size_t>(k)] /= sides[static_cast<std::size_t>(k)].head<3>().norm();
    }
    std::vector<bool> seen(items.size());
    for (std::size_t i = 0; i < items.size(); ++i) {
        const GpuMesh& mesh = on_card(items[i].mesh);
        const Vec3 middle = items[i].world_from_mesh.point(mesh.middle());
        const double radius = mesh.radius() * items[i].world_from_mesh.size,
                     reach = radius + 0.4 * std::max(0.0, middle.z() + radius);
        seen[i] = radius > smallest_px * camera.metres_per_pixel(middle) &&
                  std::ranges::all_of(sides, [&](const Eigen::Vector4d& side) {
                      return side.head<3>().dot(middle) + side[3] > -reach;
                  });
    }
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
        GpuMesh& mesh = on_card(group.like->mesh);
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
        triangles += on_card(group.like->mesh).triangle_count(group.unseen_m) * group.items.size();
    if (triangles > most_shadow_triangles || camera.elevation < 0) return;
    gl_.glEnable(GL_STENCIL_TEST);
    gl_.glStencilFunc(GL_EQUAL, 0, 0xFF);
    gl_.glStencilOp(GL_KEEP, GL_KEEP, GL_INCR);
    shadow_.bind();
    shadow_.setUniformValue("clipFromWorld", to_qt(clip_from_middle_));
    shadow_.setUniformValue("floorHeight", static_cast<float>(-camera.target.z()));
    shadow_.setUniformValue("flatColor", QVector4D(0.05f, 0.12f, 0.14f, theme.night ? 0.32f : 0.13f));
    for (const InstanceGroup& group : instances_.groups())
        if (!group.like->measure && !group.like->lifted && group.like->pale == 0)
            on_card(group.like->mesh).draw_all_faces(instances_, group, group.unseen_m);
    gl_.glDisable(GL_STENCIL_TEST);
}

void SceneRenderer::draw_shapes(const Camera& camera, const Theme& theme) {
    gl_.glDisable(GL_BLEND);
    gl_.glEnable(GL_DEPTH_TEST);
    gl_.glDepthFunc(GL_LEQUAL);
    gl_.glEnable(GL_POLYGON_OFFSET_FILL);
    faces_.bind();
    faces_.setUniformValue("tint", to_vector(theme.raspberryTint));
    faces_.setUniformValue("picture", 0);
    faces_.setUniformValue("clipFromWorld", to_qt(clip_from_middle_));
    faces_.setUniformValue("viewFromWorld", to_qt3(camera.view_from_world().topLeftCorner<3, 3>()));
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

void SceneRenderer::draw_group(const InstanceGroup& group) {
    const DrawItem& item = *group.like;
    const Paint& paint = *item.paint;
    const GpuMesh& mesh = on_card(item.mesh);
    faces_.setUniformValue("tintAmount", item.selected ? 0.45f : 0.0f);
    faces_.setUniformValue("opacity", item.pale > 0 ? static_cast<float>(item.pale) / 100 : 1.0f);
    const auto paint_with = [&](std::size_t submesh) {
        faces_.setUniformValue("pictureAmount", bind_picture(paint, submesh));
        faces_.setUniformValue("base", to_vector(paint.colors[std::min(submesh, paint.colors.size() - 1)]));
    };
    const bool all_alike = paint.colors.size() == 1 && paint.pictures.empty();
    if (item.first_indices || all_alike || item.mesh->submeshes.empty()) {
        paint_with(0);
        item.first_indices ? mesh.draw_first_faces(instances_, group, *item.first_indices)
                           : mesh.draw_all_faces(instances_, group, group.unseen_m);
        return;
    }
    for (std::size_t s = 0; s < item.mesh->submeshes.size(); ++s) {
        paint_with(s);
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
        on_card(group.like->mesh).draw_edges(instances_, group);
    }
}

}  // namespace pivrak
