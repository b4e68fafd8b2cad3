#pragma once

#include <QOpenGLExtraFunctions>
#include <QOpenGLShaderProgram>
#include <QOpenGLTexture>
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
    void draw_background(const Theme& theme, const Camera& camera);
    void draw_grid(const Theme& theme, const Camera& camera, double step_m);
    void draw_shadow(const Camera& camera, const Theme& theme);
    void draw_shapes(const Camera& camera, const Theme& theme);
    void draw_group(const InstanceGroup& group);
    void draw_edges(const Theme& theme, double width);
    /// How coarse each group may be.
    void allow_errors(const std::vector<DrawItem>& items, const Camera& camera, const Options& options);
    /// What is in sight and larger than a dot.
    std::vector<bool> seen(const std::vector<DrawItem>& items, const Camera& camera);
    GpuMesh& on_card(const std::shared_ptr<const Mesh>& mesh);
    void drop_unused(const std::vector<DrawItem>& items);
    /// Binds the picture of a submesh; answers how much of it shows: all or nothing.
    float bind_picture(const Paint& paint, std::size_t submesh);

    QOpenGLExtraFunctions& gl_;
    QOpenGLShaderProgram background_, grid_, faces_, lines_, shadow_;
    GLuint empty_array_ = 0;
    Instances instances_;
    Mat4 clip_from_middle_ = Mat4::Identity();  ///< places are counted from the camera's target
    std::unordered_map<const Mesh*, std::unique_ptr<GpuMesh>> meshes_;
    struct Picture {
        std::shared_ptr<const std::vector<unsigned char>> bytes;
        std::unique_ptr<QOpenGLTexture> texture;  ///< none when it cannot be decoded
    };
    std::unordered_map<const void*, Picture> pictures_;
    std::unique_ptr<QOpenGLTexture> white_;
};

}  // namespace pivrak
