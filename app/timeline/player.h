#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

#include "app/session/session.h"

namespace pivrak {

/// Plays the clip in real time: whole frames, late ones left out, so that a slow picture never slows time; or
/// slower, backwards, or every frame however long it takes.
class Player : public QObject {
    Q_OBJECT

public:
    explicit Player(Session& session, QObject* parent = nullptr);
    bool isPlaying() const { return timer_.isActive(); }
    void toggle();
    void stop();

    /// Seconds of the clip for one of the clock; below nothing it runs back.
    void setPace(double pace, bool every_frame);

    /// The frame to show after some time, from a frame on. Outside a loop it stays at the last one.
    static double frameAfter(const Clip& clip, double from_frame, double seconds, double frame_rate);

signals:
    void playingChanged(bool playing);
    /// So many frames were shown since it began, and so many left out.
    void played(int shown, int left_out);

private:
    void tick();
    Session& session_;
    QTimer timer_;
    QElapsedTimer clock_;
    double start_frame_ = 0, pace_ = 1, due_ = 0;  ///< frames since it began
    bool every_frame_ = false;
    int shown_ = 0, left_out_ = 0;
};

}  // namespace pivrak
