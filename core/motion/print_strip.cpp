#include "core/motion/print_strip.h"

#include <algorithm>
#include <cmath>

#include "core/motion/bake.h"

namespace pivrak {
namespace {

constexpr int looks_a_frame = 2;  // as states are integrated
constexpr double row_step_m = 0.05, column_step_m = 0.04;
constexpr double ground_yields_m = 0.01;  // From memory: firm snow or soil under a tyre.
constexpr double off_ground_m = 0.02;
constexpr double steepest_lean = 0.9;  // of the axle's rise: beyond, the wheel lies on its side

/// Where a wheel touches at one moment.
struct Touch {
    Vec3 middle{0, 0, 0};  ///< of what it prints
    Vec3 left{0, 1, 0};    ///< level, unit
    double width_m = 0;    ///< 0 off the ground
};

class Layer {
public:
    Layer(const Document& document, const Tree& tree, const Print& print, const Evaluator& evaluator,
          RigFacts& facts)
        : lift_m_(print.lift_m), ground_(facts.ground(document, print.ground)) {
        const Part& wheel = *document.parts.find(print.wheel);
        axis_ = wheel.joint.axis;
        size_ = facts.wheel(document, tree, wheel.id);
        slot_ = *evaluator.part_slot(wheel.id);
        for (std::size_t i = 0; i < evaluator.wheels().size(); ++i)
            if (evaluator.wheels()[i] == wheel.id) contact_ = static_cast<int>(i);
        width_ = print.width_m > 0 ? print.width_m : 2 * size_.half_width_m;
        columns_ = static_cast<std::size_t>(std::clamp(std::ceil(width_ / column_step_m), 2.0, 16.0)) + 1;
        out_.print = print.id;
        out_.tile_m = print.tile_m;
        out_.material = print.material;
    }

    void look(const Pose& pose, double frame) {
        const Touch now = touch(pose);
        if (!out_.looks.empty()) advance(now);
        last_ = now;
        out_.looks.push_back(frame);
        out_.ways.push_back(furthest_);
    }

    PrintStrip finish() {
        // The end lies between two rows.
        if (end_.width_m > 0 && !out_.rows.empty() && furthest_ > out_.rows.back().way_m)
            add(end_, furthest_);
        for (std::size_t i = 0; i < out_.rows.size(); ++i) set_normals(i);
        return std::move(out_);
    }

private:
    Touch touch(const Pose& pose) const {
        const Frame& wheel = pose.world_from_part[slot_];
        const Vec3 axle = wheel.axis(axis_), hub = wheel.point(size_.middle_m * Vec3::Unit(axis_));
        Touch out = last_;
        out.width_m = 0;
        if (std::abs(axle.z()) > steepest_lean) return out;
        out.left = Vec3(axle.x(), axle.y(), 0).normalized();
        if (contact_ >= 0 && pose.wheels[static_cast<std::size_t>(contact_)].radius_m > 0)
            return leaning(pose.wheels[static_cast<std::size_t>(contact_)], axle, wheel.size * width_, out);
        const Vec3 normal = (Vec3::UnitZ() - axle.z() * axle).normalized();
        out.middle = hub - wheel.size * size_.radius_m * normal;
        const auto height = height_at(out.middle);
        const bool touches = contact_ >= 0
                                 ? pose.wheels[static_cast<std::size_t>(contact_)].has_ground &&
                                       pose.wheels[static_cast<std::size_t>(contact_)].gap_m < off_ground_m
                                 : height && out.middle.z() - *height < off_ground_m;
        if (touches) out.width_m = wheel.size * width_;
        return out;
    }

    /// As much of the tread as sinks in, from the edge inward.
    Touch leaning(const WheelStand& stand, const Vec3& axle, double whole, Touch out) const {
        const Vec3 middle = stand.place - stand.edge_m * out.left;
        const double steep = std::abs(axle.z()) / std::max(1e-9, Vec2(axle.x(), axle.y()).norm());
        const double width = std::min(whole, ground_yields_m / std::max(steep, 1e-9));
        out.middle = middle + std::copysign(0.5 * (whole - width), stand.edge_m) * out.left;
        out.width_m = stand.has_ground ? width : 0;
        return out;
    }

    std::optional<double> height_at(const Vec3& place) const {
        return ground_ ? ground_->height(place.x(), place.y()) : std::optional(0.0);
    }

    void advance(const Touch& now) {
        const Vec3 left = (last_.left + now.left).normalized(), ahead = left.cross(Vec3::UnitZ());
        const double before = travel_, step = (now.middle - last_.middle).dot(ahead);
        travel_ += step;
        if (sign_ == 0 && std::abs(travel_) > 1e-6) sign_ = travel_ > 0 ? 1 : -1;
        const double from = sign_ * before, to = sign_ * travel_;
        if (!(to > furthest_)) return;
        const bool prints = now.width_m > 0 && last_.width_m > 0;
        if (prints) {
            if (broken_ || out_.rows.empty()) add(between(now, share(furthest_, from, to)), furthest_);
            for (double way = next_row(); way <= to; way += row_step_m)
                if (way > out_.rows.back().way_m) add(between(now, share(way, from, to)), way);
            end_ = now;
        } else {
            if (!broken_ && end_.width_m > 0 && furthest_ > out_.rows.back().way_m) add(end_, furthest_);
            broken_ = !out_.rows.empty();
            end_.width_m = 0;
        }
        furthest_ = to;
    }

    double next_row() const { return row_step_m * (std::floor(furthest_ / row_step_m + 1e-9) + 1); }
    static double share(double way, double from, double to) { return (way - from) / (to - from); }

    Touch between(const Touch& now, double share) const {
        return {last_.middle + share * (now.middle - last_.middle),
                (last_.left + share * (now.left - last_.left)).normalized(),
                last_.width_m + share * (now.width_m - last_.width_m)};
    }

    void add(const Touch& touch, double way) {
        PrintStrip::Row row;
        row.way_m = way;
        row.starts = out_.rows.empty() || broken_;
        broken_ = false;
        for (std::size_t k = 0; k < columns_; ++k) {
            // Left as seen along the way of the print, so that its upper side is up.
            const double across = 0.5 - static_cast<double>(k) / static_cast<double>(columns_ - 1);
            Vec3 place = touch.middle + sign_ * across * touch.width_m * touch.left;
            place.z() = height_at(place).value_or(place.z()) + lift_m_;
            row.places.push_back(place);
        }
        if (!row.starts) note_burial(out_.rows.back(), row);
        out_.rows.push_back(std::move(row));
    }

    void note_burial(const PrintStrip::Row& before, const PrintStrip::Row& row) {
        for (std::size_t k = 1; k < columns_; ++k) {
            const Vec3 middle =
                0.25 * (before.places[k - 1] + before.places[k] + row.places[k - 1] + row.places[k]);
            if (const auto height = height_at(middle))
                out_.burial_m = std::max(out_.burial_m, *height - middle.z());
        }
    }

    void set_normals(std::size_t i) {
        auto& rows = out_.rows;
        const std::size_t before = i > 0 && !rows[i].starts ? i - 1 : i,
                          after = i + 1 < rows.size() && !rows[i + 1].starts ? i + 1 : i;
        for (std::size_t k = 0; k < columns_; ++k) {
            const std::size_t l = k > 0 ? k - 1 : k, r = k + 1 < columns_ ? k + 1 : k;
            const Vec3 normal =
                (rows[after].places[k] - rows[before].places[k]).cross(rows[i].places[l] - rows[i].places[r]);
            rows[i].normals.push_back(normal.norm() > 1e-12 ? Vec3(normal.normalized()) : Vec3::UnitZ());
        }
    }

    double lift_m_;
    std::shared_ptr<const GroundMap> ground_;
    int axis_ = 1, contact_ = -1;
    WheelSize size_;
    std::size_t slot_ = 0, columns_ = 3;
    double width_ = 0, travel_ = 0, furthest_ = 0, sign_ = 0;
    bool broken_ = false;
    Touch last_, end_;
    PrintStrip out_;
};

PrintStrip::Row row_between(const PrintStrip::Row& a, const PrintStrip::Row& b, double way) {
    const double t = (way - a.way_m) / (b.way_m - a.way_m);
    PrintStrip::Row out;
    out.way_m = way;
    for (std::size_t k = 0; k < a.places.size(); ++k) {
        out.places.push_back(a.places[k] + t * (b.places[k] - a.places[k]));
        out.normals.push_back((a.normals[k] + t * (b.normals[k] - a.normals[k])).normalized());
    }
    return out;
}

}  // namespace

double PrintStrip::way_at(double frame) const {
    if (looks.empty() || frame <= looks.front()) return ways.empty() ? 0 : ways.front();
    if (frame >= looks.back()) return ways.back();
    const auto i =
        static_cast<std::size_t>(std::upper_bound(looks.begin(), looks.end(), frame) - looks.begin());
    const double t = (frame - looks[i - 1]) / (looks[i] - looks[i - 1]);
    return ways[i - 1] + t * (ways[i] - ways[i - 1]);
}

double PrintStrip::printed_m(double way) const {
    double sum = 0;
    for (std::size_t i = 1; i < rows.size() && rows[i - 1].way_m < way; ++i)
        if (!rows[i].starts) sum += std::min(way, rows[i].way_m) - rows[i - 1].way_m;
    return sum;
}

std::pair<std::uint32_t, double> PrintStrip::whole_rows(double way) const {
    std::uint32_t count = 0;
    double last = 0;
    for (std::size_t i = 1; i < rows.size() && rows[i].way_m <= way; ++i) {
        if (!rows[i].starts) count += 6 * static_cast<std::uint32_t>(rows[i].places.size() - 1);
        last = rows[i].way_m;
    }
    return {count, last};
}

Mesh PrintStrip::piece(double from, double to) const {
    Mesh mesh;
    const auto add_row = [&](const Row& row) {
        for (std::size_t k = 0; k < row.places.size(); ++k) {
            mesh.positions.push_back(row.places[k].cast<float>());
            mesh.normals.push_back(row.normals[k].cast<float>());
            mesh.uvs.emplace_back(static_cast<float>(k) / static_cast<float>(row.places.size() - 1),
                                  static_cast<float>(row.way_m / tile_m));
        }
    };
    const auto add_quads = [&](std::uint32_t columns) {
        const auto end = static_cast<std::uint32_t>(mesh.positions.size());
        const std::uint32_t b = end - columns, a = b - columns;
        for (std::uint32_t k = 0; k + 1 < columns; ++k)
            mesh.indices.insert(mesh.indices.end(), {a + k, a + k + 1, b + k + 1, a + k, b + k + 1, b + k});
    };
    bool open = false;  // whether the row before the next one has been added
    for (std::size_t i = 1; i < rows.size(); ++i) {
        const Row &a = rows[i - 1], &b = rows[i];
        if (b.starts || b.way_m <= from || a.way_m >= to) {
            open = false;
            continue;
        }
        if (!open) add_row(a.way_m < from ? row_between(a, b, from) : a);
        add_row(b.way_m > to ? row_between(a, b, to) : b);
        add_quads(static_cast<std::uint32_t>(a.places.size()));
        open = true;
    }
    mesh.submeshes = {{material, 0, static_cast<std::uint32_t>(mesh.indices.size()), ""}};
    return mesh;
}

Result<std::vector<PrintStrip>> lay_prints(const Document& document, ClipId clip_id,
                                           const Progress& progress) {
    if (document.prints.empty()) return std::vector<PrintStrip>{};
    RigFacts facts;
    const Tree tree(document);
    PIVRAK_TRY(evaluator, Evaluator::compile(document, clip_id, &facts));
    std::vector<Layer> layers;
    for (const Print& print : document.prints) {
        const Part* wheel = document.parts.find(print.wheel);
        if (wheel && wheel->joint.has(ChannelKind::Turn) &&
            facts.wheel(document, tree, print.wheel).radius_m > 1e-6)
            layers.emplace_back(document, tree, print, evaluator, facts);
    }
    Pose pose = evaluator.make_pose();
    const auto look = [&](double frame) {
        evaluator.evaluate(frame, pose);
        for (Layer& layer : layers) layer.look(pose, frame);
    };
    const std::vector<double> frames = clip_frames(clip_or_first(document, clip_id));
    look(frames.front());
    for (std::size_t i = 1; i < frames.size() && !layers.empty(); ++i) {
        if (!progress.go_on(static_cast<double>(i) / static_cast<double>(frames.size()), "laying prints"))
            return Error{"print.cancelled", "cancelled", ""};
        for (int k = 1; k <= looks_a_frame; ++k)
            look(frames[i - 1] + (frames[i] - frames[i - 1]) * k / looks_a_frame);
    }
    std::vector<PrintStrip> strips;
    for (Layer& layer : layers) strips.push_back(layer.finish());
    return strips;
}

}  // namespace pivrak
