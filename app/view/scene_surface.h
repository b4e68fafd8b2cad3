#pragma once

#include <QImage>
#include <QWidget>
#include <memory>

#include "app/view/scene_painter.h"

namespace pivrak {

/// Where pictures of a scene stand in the window. The mouse goes through it to the widget below.
class SceneSurface {
public:
    virtual ~SceneSurface() = default;
    /// Owned by its parent.
    virtual QWidget& widget() = 0;
    /// The scene is another one: its picture is painted anew.
    virtual void changed() = 0;
    /// What is painted now, with several pixels for each of the widget's where the screen has them.
    virtual QImage picture() = 0;
    /// Waits until what was asked of OpenGL is done.
    virtual void finish() = 0;
    /// Lets the painter end, and paints no more.
    virtual void end() = 0;
};

/// Painted straight into the window, as a child of a widget. The painter must live on until `end`.
SceneSurface* make_card_surface(ScenePainter& painter, QWidget& parent);
/// Drawn off screen and painted as a picture, so that the rest of the window is left alone. Null where
/// nothing can draw off screen.
SceneSurface* make_processor_surface(ScenePainter& painter, QWidget& parent);
/// That of the card where there is one. Where the processor draws, putting a window together from OpenGL
/// pictures takes longer than drawing them: there the other one.
SceneSurface* make_scene_surface(ScenePainter& painter, QWidget& parent);

}  // namespace pivrak
