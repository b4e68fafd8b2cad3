#pragma once

#include <optional>
#include <string>
#include <unordered_map>
#include <unordered_set>

#include "core/model/document.h"
#include "core/model/driven_index.h"
#include "core/rig/gears/train.h"

namespace pivrak {

/// How a shaft that nobody named as driven, and that follows another one which nothing moves, is turned by
/// hand: through that one. `value = constant + share * input`.
struct TrainHandle {
    ChannelRef input;
    double share = 1, constant = 0;
    double input_for(double value) const { return (value - constant) / share; }
};

/// Who moves what in a document: looked up and solved once, asked of many channels.
class Drivers {
public:
    explicit Drivers(const Document& document);

    /// The name of what moves a channel: a part, a vehicle, a chain, a rider ahead, a hitch; none when it is
    /// free. Of a train of shafts, the one that turns this one.
    std::optional<std::string> name(ChannelRef channel) const;
    /// The same, but for linkages and reaches: who moves what these have to follow.
    std::optional<std::string> other_name(ChannelRef channel) const;
    /// Whether a reach moves a channel, always or by its blend.
    bool is_reached(ChannelRef channel) const { return reached_.contains(channel); }
    /// None for a channel of no train, an input, and one whose train has drivers already.
    std::optional<TrainHandle> handle(ChannelRef channel) const;
    /// The coupling that names a channel as the one it moves, or null.
    const Coupling* coupling(ChannelRef channel) const { return couplings_.find(channel); }
    const Document& document() const { return document_; }

private:
    std::string name_or_missing(PartId part) const;
    std::optional<std::string> in_train(ChannelRef channel) const;
    void index_trains();
    void index_vehicles();
    void index_constraints();
    void index_linkages();
    void index_reaches();
    bool is_blended(OwnerId element) const;

    Document document_;  ///< shares all with the one it was made from
    DrivenIndex couplings_;
    std::unordered_map<PartId, std::vector<const Chain*>> chains_at_;
    std::unordered_map<PartId, const Vehicle*> follows_, suspends_;
    std::unordered_map<PartId, std::vector<const Constraint*>> asked_by_;  ///< those that always ask
    std::unordered_map<ChannelRef, std::string> solved_by_;                ///< what linkages and reaches move
    std::unordered_set<ChannelRef> reached_;
    std::unordered_map<PartId, PartId> towed_by_;  ///< hitch of each turntable and drawbar
    std::unordered_set<PartId> in_train_;          ///< what trains turn or carry
    TrainSolution trains_;
};

/// Of one channel alone.
std::optional<std::string> driver_name(const Document& document, ChannelRef channel);

/// Who could not be without what a part's joint has now, if it were `joint` instead: a coupling told by its
/// other part, a chain, a vehicle, a print. None when nobody minds.
std::optional<std::string> joint_user(const Document& document, PartId part, const Joint& joint);

}  // namespace pivrak
