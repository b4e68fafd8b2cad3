#pragma once

#include <QOpenGLExtraFunctions>
#include <QOpenGLShaderProgram>
#include <QOpenGLTexture>
#include <array>
#include <functional>
#include <memory>
#include <optional>
#include <unordered_map>
#include <vector>

#include "app/shell/theme.h"
#include "app/view/camera.h"
#include "app/view/gpu_mesh.h"

namespace pivrak {

/// Draws the ground, its grid, and shapes with soft light, crease lines and a shadow on the floor; what is
/// alike in one call, what nobody can see not at all. All calls with the context current.
class SceneRenderer {
public:
    explicit SceneRenderer(QOpenGLExtraFunctions& gl);
    ~SceneRenderer();

    struct Options {
        bool edges = true, shadow = true;
        double error_px = 0;           ///< up to which shapes may be coarser
        std::size_t coarser_from = 0;  ///< triangles: what has fewer never is
        double pixel_ratio = 1;
        double grid_step_m = 1;
        /// Told "begin", then the name of each pass when all of it is drawn; waiting for that takes time of
        /// its own.
        std::function<void(const char* pass)> passed = {};
    };
    void draw(const std::vector<DrawItem>& items, const Camera& camera, const Theme& theme,
              const Options& options);

private:
    /// Paints faces; its uniforms are set for every group.
    struct FaceProgram {
        QOpenGLShaderProgram program;
        int base = -1, tint_amount = -1, opacity = -1, clip_from_mesh = -1, view_from_mesh = -1;
    };
    void draw_background(const Theme& theme, const Camera& camera);
    void draw_grid(const Theme& theme, const Camera& camera, double step_m);
    void draw_shadow(const Camera& camera, const Theme& theme);
    void draw_shapes(const Theme& theme);
    void draw_group(const InstanceGroup& group);
    /// What the next faces are painted with: one of the two programs, its colour and its picture.
    void paint_with(const InstanceGroup& group, std::size_t submesh);
    void draw_edges(const Theme& theme, double width);
    /// How coarse each group may be.
    void allow_errors(const std::vector<DrawItem>& items, const Camera& camera, const Options& options);
    /// What is in sight and larger than a dot, the nearest first: what it hides need not be painted.
    std::vector<std::size_t> seen(const std::vector<DrawItem>& items, const Camera& camera);
    GpuMesh& on_card(const DrawItem& item);
    void drop_unused(const std::vector<DrawItem>& items);
    /// What a surface has beside its colour, for the program that is bound.
    void set_surface(QOpenGLShaderProgram& program, const SurfacePaint& surface);
    void set_pictures(QOpenGLShaderProgram& program, const SurfacePaint& surface, double opacity);
    /// A picture; null where it cannot be read.
    QOpenGLTexture* picture_of(const SurfacePaint::Use& use);

    QOpenGLExtraFunctions& gl_;
    QOpenGLShaderProgram background_, grid_, lines_, shadow_, shadow_alone_;
    std::array<FaceProgram, 6>
        faces_;  ///< plain, with a surface, and pictured; of instances and of one alone
    FaceProgram* bound_ = nullptr;
    Mat3 view_from_world_ = Mat3::Identity();
    Mat4 view_from_pixel_ = Mat4::Identity();
    Vec3 middle_{0, 0, 0};
    GLuint empty_array_ = 0;
    Instances instances_;
    Mat4 clip_from_middle_ = Mat4::Identity();  ///< places are counted from the camera's target
    std::unordered_map<const Mesh*, std::unique_ptr<GpuMesh>> meshes_;
    struct Picture {
        std::shared_ptr<const std::vector<unsigned char>> bytes;
        std::unique_ptr<QOpenGLTexture> texture;  ///< none when it cannot be decoded
    };
    std::unique_ptr<QOpenGLTexture> white_;  ///< where a picture is asked for and none is there
    std::unordered_map<const void*, Picture> pictures_;
};

}  // namespace pivrak
