#include "app/view/scene_renderer.h"

#include <QMatrix4x4>
#include <QVector3D>
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

}  // namespace

SceneRenderer::SceneRenderer(QOpenGLExtraFunctions& gl) : gl_(gl) {
    build(background_, shaders::full_view, shaders::background);
    build(grid_, shaders::floor_vertex, shaders::floor_fragment);
    build(faces_, shaders::shape_vertex, shaders::shape_fragment);
    build(lines_, shaders::line_vertex, shaders::plain_fragment);
    build(shadow_, shaders::shadow_vertex, shaders::plain_fragment);
    gl_.glGenVertexArrays(1, &empty_array_);
}

float SceneRenderer::bind_picture(const DrawItem& item, std::size_t submesh) {
    const auto bytes = submesh < item.pictures.size() ? item.pictures[submesh] : nullptr;
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

const GpuMesh& SceneRenderer::on_card(const std::shared_ptr<const Mesh>& mesh) {
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
    draw_background(theme, camera);
    draw_grid(theme, camera, options.grid_step_m);
    draw_shadow(items, camera, theme);
    draw_shapes(items, camera, theme);
    if (options.edges) draw_edges(items, camera, theme, options.pixel_ratio);
    gl_.glBindVertexArray(0);
    drop_unused(items);
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

void SceneRenderer::draw_shadow(const std::vector<DrawItem>& items, const Camera& camera,
                                const Theme& theme) {
    std::size_t triangles = 0;
    for (const DrawItem& item : items) triangles += item.mesh->triangle_count();
    if (triangles > most_shadow_triangles || camera.elevation < 0) return;
    gl_.glEnable(GL_STENCIL_TEST);
    gl_.glStencilFunc(GL_EQUAL, 0, 0xFF);
    gl_.glStencilOp(GL_KEEP, GL_KEEP, GL_INCR);
    shadow_.bind();
    shadow_.setUniformValue("clipFromWorld", to_qt(camera.clip_from_world()));
    shadow_.setUniformValue("flatColor", QVector4D(0.05f, 0.12f, 0.14f, theme.night ? 0.32f : 0.13f));
    for (const DrawItem& item : items) {
        if (item.measure || item.lifted) continue;
        shadow_.setUniformValue("worldFromMesh", to_qt(item.world_from_mesh.matrix()));
        on_card(item.mesh).draw_all_faces();
    }
    gl_.glDisable(GL_STENCIL_TEST);
}

void SceneRenderer::draw_shapes(const std::vector<DrawItem>& items, const Camera& camera,
                                const Theme& theme) {
    gl_.glDisable(GL_BLEND);
    gl_.glEnable(GL_DEPTH_TEST);
    gl_.glDepthFunc(GL_LEQUAL);
    gl_.glEnable(GL_POLYGON_OFFSET_FILL);
    gl_.glPolygonOffset(1.0f, 1.0f);
    faces_.bind();
    faces_.setUniformValue("tint", to_vector(theme.raspberryTint));
    faces_.setUniformValue("picture", 0);
    const Mat4 clip_from_world = camera.clip_from_world();
    const Mat3 view_rotation = camera.view_from_world().topLeftCorner<3, 3>();
    for (const DrawItem& item : items) {
        const Mat4 world = item.world_from_mesh.matrix();
        const Mat3 rotation = item.world_from_mesh.rotation.toRotationMatrix();
        faces_.setUniformValue("clipFromMesh", to_qt(clip_from_world * world));
        faces_.setUniformValue("viewFromMesh", to_qt3(view_rotation * rotation));
        faces_.setUniformValue("worldFromMesh", to_qt3(rotation));
        faces_.setUniformValue("tintAmount", item.selected ? 0.45f : 0.0f);
        const GpuMesh& mesh = on_card(item.mesh);
        gl_.glPolygonOffset(item.lifted ? -1.0f : 1.0f, item.lifted ? -2.0f : 1.0f);
        if (item.first_indices) {
            faces_.setUniformValue("pictureAmount", bind_picture(item, 0));
            faces_.setUniformValue("base", to_vector(item.colors.front()));
            mesh.draw_first_faces(*item.first_indices);
            continue;
        }
        if ((item.colors.size() == 1 && item.pictures.empty()) || item.mesh->submeshes.empty()) {
            faces_.setUniformValue("base", to_vector(item.colors.front()));
            faces_.setUniformValue("pictureAmount", bind_picture(item, 0));
            mesh.draw_all_faces();
            continue;
        }
        for (std::size_t s = 0; s < item.mesh->submeshes.size(); ++s) {
            faces_.setUniformValue("pictureAmount", bind_picture(item, s));
            faces_.setUniformValue("base", to_vector(item.colors[std::min(s, item.colors.size() - 1)]));
            mesh.draw_faces(item.mesh->submeshes[s]);
        }
    }
    gl_.glDisable(GL_POLYGON_OFFSET_FILL);
}

void SceneRenderer::draw_edges(const std::vector<DrawItem>& items, const Camera& camera, const Theme& theme,
                               double width) {
    gl_.glEnable(GL_BLEND);
    lines_.bind();
    lines_.setUniformValue("lift", 2e-5f);
    const Mat4 clip_from_world = camera.clip_from_world();
    for (const DrawItem& item : items) {
        if (item.measure || item.lifted) continue;
        const QColor color = item.selected ? theme.raspberry : theme.edge;
        gl_.glLineWidth(static_cast<float>((item.selected ? 1.6 : 1.0) * width));
        lines_.setUniformValue("flatColor", QVector4D(color.redF(), color.greenF(), color.blueF(),
                                                      item.selected ? 1.0f : 0.62f));
        lines_.setUniformValue("clipFromMesh", to_qt(clip_from_world * item.world_from_mesh.matrix()));
        on_card(item.mesh).draw_edges();
    }
}

}  // namespace pivrak
