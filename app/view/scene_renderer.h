#pragma once

#include <QOpenGLExtraFunctions>
#include <QOpenGLShaderProgram>
#include <QOpenGLTexture>
#include <memory>
#include <optional>
#include <unordered_map>
#include <vector>

#include "app/shell/theme.h"
#include "app/view/camera.h"
#include "app/view/gpu_mesh.h"
#include "core/model/shape.h"

namespace pivrak {

/// One placed shape to draw.
struct DrawItem {
    std::shared_ptr<const Mesh> mesh;
    Frame world_from_mesh;
    std::vector<QColor> colors;  ///< one for each submesh, as a screen shows them; a single one for all
    bool selected = false;
    std::vector<std::shared_ptr<const std::vector<unsigned char>>>
        pictures;          ///< of each submesh; may be empty
    bool measure = false;  ///< stands beside the model to measure it: no lines, no shadow
    bool lifted = false;   ///< drawn over what it lies on
    std::optional<std::uint32_t> first_indices = {};  ///< only these, of one submesh
};

/// Draws the ground, its grid, and shapes with soft light, crease lines and a shadow on the floor.
/// All calls with the context current.
class SceneRenderer {
public:
    explicit SceneRenderer(QOpenGLExtraFunctions& gl);
    ~SceneRenderer();

    struct Options {
        bool edges = true;
        double pixel_ratio = 1;
        double grid_step_m = 1;
    };
    void draw(const std::vector<DrawItem>& items, const Camera& camera, const Theme& theme,
              const Options& options);

private:
    void draw_background(const Theme& theme, const Camera& camera);
    void draw_grid(const Theme& theme, const Camera& camera, double step_m);
    void draw_shadow(const std::vector<DrawItem>& items, const Camera& camera, const Theme& theme);
    void draw_shapes(const std::vector<DrawItem>& items, const Camera& camera, const Theme& theme);
    void draw_edges(const std::vector<DrawItem>& items, const Camera& camera, const Theme& theme,
                    double width);
    const GpuMesh& on_card(const std::shared_ptr<const Mesh>& mesh);
    void drop_unused(const std::vector<DrawItem>& items);
    /// Binds the picture of a submesh; answers how much of it shows: all or nothing.
    float bind_picture(const DrawItem& item, std::size_t submesh);

    QOpenGLExtraFunctions& gl_;
    QOpenGLShaderProgram background_, grid_, faces_, lines_, shadow_;
    GLuint empty_array_ = 0;
    std::unordered_map<const Mesh*, std::unique_ptr<GpuMesh>> meshes_;
    struct Picture {
        std::shared_ptr<const std::vector<unsigned char>> bytes;
        std::unique_ptr<QOpenGLTexture> texture;  ///< none when it cannot be decoded
    };
    std::unordered_map<const void*, Picture> pictures_;
    std::unique_ptr<QOpenGLTexture> white_;
};

}  // namespace pivrak
