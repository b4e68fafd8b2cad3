#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <optional>

namespace pivrak {

/// Whether the next picture is the full one. Where the processor draws, and a full picture takes long, those
/// of something that moves are simpler, and so is the very first one: something is seen soon. A short while
/// after the last of them the full one is asked for. A graphics card always draws the full one.
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
    /// Whether none was drawn yet: what can wait does.
    bool opens() const { return opens_; }
    /// What the last full picture took.
    void tookFull(double ms);
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
    bool opens_ = true;              ///< there was no picture yet
    bool shows_simple_ = false;      ///< the last one was
    std::optional<double> full_ms_;  ///< of the last full one
    double share_ = 1;
};

}  // namespace pivrak
