#include "core/model/recognised.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <unordered_map>

#include "core/geometry/direction.h"
#include "core/model/names/names.h"

namespace pivrak {
namespace {

constexpr double small_share = 0.04;

std::string millimetres(double metres) {
    return fmt::format("{:.0f} mm", metres * 1e3);
}

/// Axles by where they stand along the model: two are front and rear, more are numbered.
class WheelPlaces {
public:
    WheelPlaces(const std::vector<RecognisedPart>& found) {
        for (const RecognisedPart& r : found)
            if (r.shape.element == MachineElement::Wheel) wheels_.push_back(&r);
        std::vector<const RecognisedPart*> sorted = wheels_;
        std::sort(sorted.begin(), sorted.end(), [](const RecognisedPart* a, const RecognisedPart* b) {
            return a->shape.axis_point.x() > b->shape.axis_point.x();
        });
        for (const RecognisedPart* wheel : sorted) {
            if (axles_.empty() || axles_.back() - wheel->shape.axis_point.x() > 0.5 * wheel->shape.radius_m)
                axles_.push_back(wheel->shape.axis_point.x());
            axle_of_[wheel->part] = axles_.size();
            sides_.add(wheel->shape.axis_point);
        }
    }

    std::string words(const RecognisedPart& wheel) const {
        const std::size_t axle = axle_of_.at(wheel.part);
        std::string words = axles_.size() == 2  ? axle == 1 ? " front" : " rear"
                            : axles_.size() > 2 ? fmt::format(" axle {}", axle)
                                                : std::string();
        const double across = wheel.shape.axis_point.y() - sides_.middle().y();
        if (std::abs(across) > 0.25 * wheel.shape.radius_m) words += across > 0 ? " left" : " right";
        return words;
    }

private:
    std::vector<const RecognisedPart*> wheels_;
    std::vector<double> axles_;
    std::unordered_map<PartId, std::size_t> axle_of_;
    Bounds sides_;
};

std::string plain_name(const RecognisedPart& r, const WheelPlaces& places) {
    const Recognition& s = r.shape;
    switch (s.element) {
        case MachineElement::Wheel:
            return "Wheel" + places.words(r);
        case MachineElement::Gear:
            return fmt::format("Gear {}T", s.teeth);
        case MachineElement::RingGear:
            return fmt::format("Ring gear {}T", s.teeth);
        case MachineElement::Sprocket:
            return fmt::format("Sprocket {}T", s.teeth);
        case MachineElement::Shaft:
            return "Shaft " + millimetres(2 * s.radius_m);
        case MachineElement::Disc:
            return "Disc " + millimetres(2 * s.radius_m);
        case MachineElement::Plate:
            return fmt::format("Plate {} x {}", millimetres(s.length_m), millimetres(2 * s.radius_m));
    }
    return "";
}

void number_equal_names(std::vector<RecognisedPart>& found) {
    std::map<std::string, std::vector<RecognisedPart*>> by_name;
    for (RecognisedPart& r : found) by_name[r.name].push_back(&r);
    for (auto& [name, list] : by_name)
        if (list.size() > 1)
            for (std::size_t i = 0; i < list.size(); ++i)
                list[i]->name = series_name(name, i + 1, list.size());
}

/// What the parts about one say about it: a wheel has a twin on its axis and stands on the floor, a gear
/// meshes with another.
class Company {
public:
    explicit Company(const std::vector<RecognisedPart>& found) : found_(found) {
        for (const RecognisedPart& r : found)
            if (r.shape.element == MachineElement::Wheel) floor_ = std::min(floor_, lowest(r.shape));
    }

    /// The share of doubt that is left.
    double doubt(const RecognisedPart& r) const {
        if (r.shape.element == MachineElement::Wheel) {
            const bool twin = any_other(r, [&](const Recognition& o) { return is_twin(r.shape, o); });
            return (twin ? 0.35 : 1) * (lowest(r.shape) < floor_ + 0.1 * r.shape.radius_m ? 0.6 : 1);
        }
        if (r.shape.element == MachineElement::Gear)
            return any_other(r, [&](const Recognition& o) { return is_mate(r.shape, o); }) ? 0.4 : 1;
        return 1;
    }

private:
    static double lowest(const Recognition& s) {
        return s.axis_point.z() - s.radius_m * std::hypot(s.axis_direction.x(), s.axis_direction.y());
    }
    template <class Is>
    bool any_other(const RecognisedPart& r, Is is) const {
        return std::any_of(found_.begin(), found_.end(), [&](const RecognisedPart& o) {
            return o.part != r.part && o.shape.element == r.shape.element && is(o.shape);
        });
    }
    static double apart(const Recognition& a, const Recognition& b) {
        return a.axis_direction.cross(b.axis_point - a.axis_point).norm();
    }
    static bool is_twin(const Recognition& a, const Recognition& b) {
        return std::abs(a.radius_m / b.radius_m - 1) < 0.02 && std::abs(a.width_m / b.width_m - 1) < 0.05 &&
               std::abs(a.axis_direction.dot(b.axis_direction)) > 0.99 && apart(a, b) < 0.1 * a.radius_m;
    }
    /// Equal modules, parallel axes as far apart as both pitch circles reach.
    static bool is_mate(const Recognition& a, const Recognition& b) {
        const double wanted = 0.5 * a.module_m * (a.teeth + b.teeth);
        return std::abs(a.module_m / b.module_m - 1) < 0.03 &&
               std::abs(a.axis_direction.dot(b.axis_direction)) > 0.99 &&
               std::abs(apart(a, b) - wanted) < 0.5 * a.module_m;
    }

    const std::vector<RecognisedPart>& found_;
    double floor_ = 1e300;
};

void weigh_company(std::vector<RecognisedPart>& found) {
    std::vector<double> doubts;
    const Company company(found);
    for (const RecognisedPart& r : found) doubts.push_back(company.doubt(r));
    for (std::size_t i = 0; i < found.size(); ++i) {
        double& confidence = found[i].shape.confidence;
        confidence = 1 - doubts[i] * (1 - confidence);
    }
}

Recognition placed(const Recognition& shape, const Frame& world_from_shape) {
    Recognition r = shape;
    r.axis_point = world_from_shape.point(shape.axis_point);
    // Mostly forward, left or up, so that parallel axes point alike.
    r.axis_direction = mostly_positive(world_from_shape.direction(shape.axis_direction));
    return r;
}

}  // namespace

std::vector<RecognisedPart> recognise_parts(const Document& document, const std::vector<PartId>& parts,
                                            const Progress& progress) {
    const double small = small_share * document_bounds(document).longest();
    std::unordered_map<ShapeId, std::optional<Recognition>> known;
    std::vector<RecognisedPart> found;
    std::size_t done = 0;
    for (const PartId id : parts) {
        if (!progress.go_on(static_cast<double>(done++) / static_cast<double>(parts.size()),
                            "recognising parts"))
            break;
        const Part& part = *document.parts.find(id);
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape) continue;
        const auto [entry, added] = known.try_emplace(part.shape);
        if (added) entry->second = recognise(*shape->mesh);
        if (!entry->second) continue;
        Recognition r = placed(*entry->second, world_from_rest(document, id) * part.part_from_shape);
        if (r.element == MachineElement::Wheel && 2 * r.radius_m < small) r.element = MachineElement::Disc;
        found.push_back({id, r, ""});
    }
    weigh_company(found);
    const WheelPlaces places(found);
    for (RecognisedPart& r : found) r.name = plain_name(r, places);
    number_equal_names(found);
    return found;
}

std::string describe(const Recognition& s, LengthUnit unit) {
    std::string words(element_name(s.element));
    if (s.teeth) words += fmt::format(", {} teeth", s.teeth);
    if (s.lugs)
        words += fmt::format(", {} {}", s.lugs, s.element == MachineElement::Wheel ? "lugs" : "notches");
    if (s.module_m > 0) words += ", module " + format_length(s.module_m, LengthUnit::Millimetre);
    if (s.pitch_m > 0) words += ", pitch " + format_length(s.pitch_m, LengthUnit::Millimetre);
    if (s.element == MachineElement::Plate)
        return words + fmt::format(", {} × {} × {}", format_length(s.length_m, unit),
                                   format_length(2 * s.radius_m, unit), format_length(s.width_m, unit));
    return words + fmt::format(", ⌀ {}, {} {}", format_length(2 * s.radius_m, unit),
                               format_length(s.width_m, unit),
                               s.element == MachineElement::Shaft ? "long" : "wide");
}

}  // namespace pivrak
