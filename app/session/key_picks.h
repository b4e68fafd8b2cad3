#pragma once

#include <QObject>
#include <map>
#include <nlohmann/json.hpp>
#include <set>

#include "core/model/clip.h"

namespace pivrak {

/// The keys a person has picked, in curves or lanes, by channel and frame.
class KeyPicks : public QObject {
    Q_OBJECT

public:
    using Frames = std::map<ChannelRef, std::set<double>>;

    const Frames& frames() const { return frames_; }
    bool empty() const { return frames_.empty(); }
    bool has(ChannelRef channel, double frame) const;
    void set(Frames frames);
    void add(ChannelRef channel, double frame);
    /// They stand so much later from now on.
    void move(double by);
    /// Lets go of those that a clip does not have.
    void keepIn(const Clip& clip);
    /// As the argument `keys` of an operation has them.
    nlohmann::json argument() const;

signals:
    void changed();

private:
    Frames frames_;
};

}  // namespace pivrak
