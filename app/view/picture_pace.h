#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

namespace pivrak {

/// Whether the next picture is the full one. Where the processor draws, and a full picture takes long, those
/// of something that moves are simpler; a short while after the last of them the full one is asked for. A
/// graphics card always draws the full one.
class PicturePace : public QObject {
    Q_OBJECT

public:
    explicit PicturePace(QObject* parent = nullptr);

    /// Who draws is known.
    void setByProcessor(bool on) { by_processor_ = on; }
    bool isByProcessor() const { return by_processor_; }
    /// Something moved: a picture will be asked for.
    void moved();
    /// Nothing moves any more: the next picture is the full one.
    void rest();
    bool isFull() const;
    /// What the last full picture took.
    void tookFull(double ms) { full_ms_ = ms; }
    /// And a simpler one: those that follow go without lines and shadow, then have fewer pixels, when that
    /// was too long.
    void tookSimple(double ms);
    /// Pixels of a simpler picture along each side, for each of the view's.
    double pixelShare() const { return share_; }
    bool hasLines() const { return lines_; }

signals:
    /// It came to rest after simpler pictures.
    void rested();

private:
    QTimer rest_;
    QElapsedTimer last_;
    bool by_processor_ = false, moves_ = false, lines_ = true;
    double full_ms_ = 0, share_ = 1;
};

}  // namespace pivrak
