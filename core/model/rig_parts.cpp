#include "core/model/rig_parts.h"

#include <algorithm>
#include <utility>

namespace pivrak {
namespace {

template <class Change>
void each_part(Ride& ride, Change change) {
    if (ride.ahead) change(ride.ahead);
}

template <class Change>
void each_part(Tow& tow, Change change) {
    for (PartId* part : {&tow.hitch, &tow.turntable, &tow.drawbar})
        if (*part) change(*part);
}

template <class Change>
void each_part(Path& path, Change change) {
    if (path.carrier) change(path.carrier);
    if (path.drape) change(path.drape->ground);
}

template <class Change>
void each_part(Vehicle& vehicle, Change change) {
    for (PartId* part :
         {&vehicle.root, &vehicle.skid, &vehicle.follow, &vehicle.body, &vehicle.steering, &vehicle.ground})
        if (*part) change(*part);
    for (VehicleWheel& wheel : vehicle.wheels)
        for (PartId* part : {&wheel.wheel, &wheel.suspension, &wheel.steering})
            if (*part) change(*part);
    for (PartId& runner : vehicle.runners) change(runner);
}

template <class Change>
void each_part(Print& print, Change change) {
    change(print.wheel);
    if (print.ground) change(print.ground);
}

template <class Change>
void each_part(Chain& chain, Change change) {
    change(chain.frame);
    for (ChainWheel& wheel : chain.wheels) change(wheel.part);
    if (chain.take_up) change(chain.take_up);
    for (PartId& link : chain.links) change(link);
    if (!chain.ends) return;
    if (chain.ends->from.part) change(chain.ends->from.part);
    change(chain.ends->to.part);
}

/// Applies `change` to every part the rig names, and puts back what it changed.
template <class Change>
void each_part_of_rig(Document& document, Change change) {
    const SharedTable<Coupling> couplings = document.couplings;
    for (Coupling coupling : couplings) {
        const Coupling before = coupling;
        coupling.each_part(change);
        if (!(coupling == before)) document.couplings.set(coupling);
    }
    const auto each_in = [&](auto& table) {
        const auto entries = table;
        for (auto entry : entries) {
            const auto before = entry;
            each_part(entry, change);
            if (!(entry == before)) table.set(entry);
        }
    };
    each_in(document.paths);
    each_in(document.vehicles);
    each_in(document.prints);
    each_in(document.chains);
    const SharedTable<Part> parts = document.parts;
    for (const Part& part : parts) {
        if (!part.ride && !part.tow) continue;
        Part changed = part;
        if (changed.ride) each_part(*changed.ride, change);
        if (changed.tow) each_part(*changed.tow, change);
        if (!(changed == part)) document.parts.set(changed);
    }
}

using Gone = std::unordered_set<PartId>;

std::size_t drop_couplings(Document& document, const Gone& gone) {
    std::vector<CouplingId> dropped;
    const SharedTable<Coupling> couplings = document.couplings;
    for (Coupling coupling : couplings) {
        // A wheel that leaned on ground that is gone leans on the floor.
        if (auto* lean = std::get_if<Lean>(&coupling.what); lean && gone.contains(lean->ground)) {
            lean->ground = {};
            document.couplings.set(coupling);
        }
        bool lost = false;
        coupling.each_part([&](PartId part) { lost |= gone.contains(part); });
        if (lost) dropped.push_back(coupling.id);
    }
    for (const CouplingId id : dropped) document.couplings.erase(id);
    return dropped.size();
}

void drop_from_vehicles(Document& document, const Gone& gone) {
    const SharedTable<Vehicle> vehicles = document.vehicles;
    for (Vehicle vehicle : vehicles) {
        if (gone.contains(vehicle.root) || gone.contains(vehicle.follow) || gone.contains(vehicle.body)) {
            document.vehicles.erase(vehicle.id);
            continue;
        }
        for (PartId* part : {&vehicle.skid, &vehicle.steering, &vehicle.ground})
            if (gone.contains(*part)) *part = {};
        std::erase_if(vehicle.runners, [&](PartId runner) { return gone.contains(runner); });
        std::erase_if(vehicle.wheels, [&](const VehicleWheel& w) { return gone.contains(w.wheel); });
        for (VehicleWheel& wheel : vehicle.wheels)
            for (PartId* part : {&wheel.suspension, &wheel.steering})
                if (gone.contains(*part)) *part = {};
        document.vehicles.set(vehicle);
    }
}

void drop_from_prints(Document& document, const Gone& gone) {
    const SharedTable<Print> prints = document.prints;
    for (Print print : prints) {
        if (gone.contains(print.wheel)) {
            document.prints.erase(print.id);
        } else if (gone.contains(print.ground)) {
            print.ground = {};
            document.prints.set(print);
        }
    }
}

/// A chain cannot be without its datum, the wheels that its form asks for, or what it is tied to; a run that
/// starts at its first wheel not without that one. One that loses a link has none.
bool cannot_be(const Chain& before, const Chain& after, const Gone& gone) {
    if (gone.contains(after.frame) || after.wheels.size() < after.fewest_wheels()) return true;
    if (!after.ends) return false;
    if (gone.contains(after.ends->to.part) || (after.folds() && !before.folds())) return true;
    return after.travels() ? gone.contains(before.wheels.front().part) : gone.contains(after.ends->from.part);
}

void drop_from_chains(Document& document, const Gone& gone) {
    const SharedTable<Chain> chains = document.chains;
    for (Chain chain : chains) {
        const Chain before = chain;
        std::erase_if(chain.wheels, [&](const ChainWheel& wheel) { return gone.contains(wheel.part); });
        if (cannot_be(before, chain, gone)) {
            document.chains.erase(chain.id);
            if (const Part* frame = document.parts.find(chain.frame); frame && frame->chain) {
                Part left = *frame;
                left.chain = {};
                document.parts.set(left);
            }
            continue;
        }
        if (chain.wheels.size() != before.wheels.size() && !chain.ends)
            chain.slack_after = chain.wheels.size() - 1;
        if (gone.contains(chain.take_up)) chain.take_up = {};
        if (std::any_of(chain.links.begin(), chain.links.end(), [&](PartId l) { return gone.contains(l); }))
            chain.links.clear();
        document.chains.set(chain);
    }
}

void drop_from_paths(Document& document, const Gone& gone) {
    const SharedTable<Path> paths = document.paths;
    for (Path path : paths) {
        if (path.drape && gone.contains(path.drape->ground)) path.drape.reset();
        if (gone.contains(path.carrier)) {
            const Frame world = world_from_rest(document, path.carrier);
            for (PathPoint& point : path.points)
                point = {world.point(point.place), world.direction(point.before),
                         world.direction(point.after)};
            path.carrier = {};
        }
        document.paths.set(path);
    }
}

void drop_from_parts(Document& document, const Gone& gone) {
    const SharedTable<Part> parts = document.parts;
    for (const Part& part : parts) {
        if ((!part.ride && !part.tow) || gone.contains(part.id)) continue;
        Part kept = part;
        if (kept.ride && gone.contains(kept.ride->ahead)) kept.ride->ahead = {};
        if (kept.tow) {
            if (gone.contains(kept.tow->turntable)) kept.tow->turntable = {};
            if (gone.contains(kept.tow->drawbar)) kept.tow->drawbar = {};
            if (gone.contains(kept.tow->hitch)) kept.tow.reset();
        }
        if (!(kept == part)) document.parts.set(kept);
    }
}

}  // namespace

std::unordered_set<PartId> parts_of_rig(const Document& document) {
    std::unordered_set<PartId> named;
    Document scratch = document;
    each_part_of_rig(scratch, [&](PartId part) { named.insert(part); });
    for (const Part& part : document.parts)
        if (part.ride || part.tow) named.insert(part.id);
    return named;
}

void replace_in_rig(Document& document, PartId from, PartId to) {
    each_part_of_rig(document, [&](PartId& part) {
        if (part == from) part = to;
    });
}

std::size_t drop_from_rig(Document& document, const std::unordered_set<PartId>& gone) {
    drop_from_paths(document, gone);
    drop_from_vehicles(document, gone);
    drop_from_prints(document, gone);
    drop_from_chains(document, gone);
    drop_from_parts(document, gone);
    return drop_couplings(document, gone);
}

std::size_t copy_rig(Document& document, const std::unordered_map<PartId, PartId>& copy_of, bool mirrored) {
    // A name is taken over when its part was copied; answers whether all of them were.
    bool whole = true;
    const auto take_over = [&](PartId& part) {
        const auto copy = copy_of.find(part);
        whole &= copy != copy_of.end();
        if (copy != copy_of.end()) part = copy->second;
    };
    std::size_t count = 0;
    const SharedTable<Coupling> couplings = document.couplings;
    for (Coupling coupling : couplings) {
        whole = true;
        // What a wheel leans on is no part of it.
        auto* lean = std::get_if<Lean>(&coupling.what);
        const PartId ground =
            lean && !copy_of.contains(lean->ground) ? std::exchange(lean->ground, PartId{}) : PartId{};
        coupling.each_part(take_over);
        if (!whole) continue;
        if (ground) lean->ground = ground;
        coupling.id = document.new_id<CouplingId>();
        if (auto* steer = std::get_if<Steer>(&coupling.what); steer && mirrored)
            steer->left_m = -steer->left_m;
        document.couplings.set(coupling);
        ++count;
    }
    std::unordered_map<std::uint64_t, PathId> path_of;
    const SharedTable<Path> paths = document.paths;
    for (Path path : paths) {
        const auto carrier = copy_of.find(path.carrier);
        if (!path.carrier || carrier == copy_of.end()) continue;
        const PathId original = path.id;
        path.id = document.new_id<PathId>();
        path.carrier = carrier->second;
        path.name += " copy";
        path_of[original.value] = path.id;
        document.paths.set(path);
    }
    for (const auto& [original, copy] : copy_of) {
        Part part = *document.parts.find(copy);
        if (!part.ride && !part.tow) continue;
        if (part.ride) {
            each_part(*part.ride, take_over);
            if (const auto path = path_of.find(part.ride->path.value); path != path_of.end())
                part.ride->path = path->second;
            if (mirrored) part.ride->side_m = -part.ride->side_m;
        }
        if (part.tow) each_part(*part.tow, take_over);
        document.parts.set(part);
    }
    const SharedTable<Vehicle> vehicles = document.vehicles;
    for (Vehicle vehicle : vehicles) {
        if (!copy_of.contains(vehicle.root) || !copy_of.contains(vehicle.follow)) continue;
        each_part(vehicle, take_over);
        vehicle.id = document.new_id<VehicleId>();
        vehicle.name += " copy";
        document.vehicles.set(vehicle);
    }
    const SharedTable<Chain> chains = document.chains;
    for (Chain chain : chains) {
        // A copied datum goes round copied wheels or round none.
        const auto frame = copy_of.find(chain.frame);
        if (frame == copy_of.end()) continue;
        Part datum = *document.parts.find(frame->second);
        datum.chain = {};
        whole = true;
        each_part(chain, take_over);
        if (whole) {
            chain.id = document.new_id<ChainId>();
            chain.name += " copy";
            document.chains.set(chain);
            if (chain.travels()) datum.chain = chain.id;
        }
        document.parts.set(datum);
    }
    const SharedTable<Print> prints = document.prints;
    for (Print print : prints) {
        if (!copy_of.contains(print.wheel)) continue;
        each_part(print, take_over);
        print.id = document.new_id<PrintId>();
        print.name += " copy";
        document.prints.set(print);
    }
    return count;
}

}  // namespace pivrak
