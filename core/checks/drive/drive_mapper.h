#pragma once

#include <map>

#include "core/checks/drive/drive_map.h"
#include "core/model/driven_index.h"

namespace pivrak {

/// What elements tell the drive map: which channel moves which, the way power takes.
class DriveMapper {
public:
    DriveMapper(const Document& document, const Clip& clip);

    const Document& document() const { return document_; }
    /// Nothing where one of them is not there.
    void add(ChannelRef from, ChannelRef to, std::string label);
    /// As above, the way power takes; `label` is told whether that is from the second to the first.
    template <class Label>
    void add_by_power(ChannelRef first, ChannelRef second, Label label) {
        const bool turned_round = place(first) > place(second);
        add(turned_round ? second : first, turned_round ? first : second, label(turned_round));
    }
    bool there(ChannelRef channel) const;
    /// The coupling that names a channel as the one it moves, or null.
    const Coupling* coupling(ChannelRef channel) const { return couplings_.find(channel); }
    bool has(ChannelRef from, ChannelRef to) const;
    /// How far along its train; last of all what is in none.
    int place(ChannelRef channel) const;
    /// The turn of a hinge, the shift of a slide.
    ChannelRef joint_channel(PartId part) const;
    /// Of a free part the channel that has keys, or else its first one.
    ChannelRef moving_channel(const Part& part) const;

    DriveMap map();

private:
    const Document& document_;
    DrivenIndex couplings_;
    /// `tell` adds edges that are drawn for an element.
    template <class Tell>
    void each_of(OwnerId element, bool off, Tell tell) {
        by_ = element;
        off_ = off;
        tell();
    }

    std::map<ChannelRef, int> place_;
    std::set<ChannelRef> clashes_;
    OwnerId by_;
    bool off_ = false;
    std::vector<DriveEdge> edges_;
};

/// `aims at`, `aims at, 0.25` where it does so by a share only.
std::string with_blend(std::string verb, double blend);

/// `12.0 mm`, `1.200 m`.
std::string short_length(double metres);

// For every kind, defined in its folder: who moves whom through an element.
#define PIVRAK_TABLE(Type, table) void map(const Type& element, DriveMapper& out);
#define PIVRAK_COUPLING(Type) void map(const Type& element, DriveMapper& out);
#define PIVRAK_FACET(Type, facet) void map(const Type& element, const Part& part, DriveMapper& out);
#include "core/elements/kinds.def"

}  // namespace pivrak
