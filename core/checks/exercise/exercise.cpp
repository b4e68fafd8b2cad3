#include "core/checks/exercise/exercise.h"

#include <fmt/format.h>

#include <algorithm>
#include <random>

#include "core/checks/clip_check.h"
#include "core/checks/drive/chain_check.h"
#include "core/checks/exercise/contacts.h"
#include "core/checks/travel/slip_check.h"
#include "core/model/element_channels.h"

namespace pivrak {
namespace {

constexpr double frames = 96;
constexpr int points_of_pair = 12;  // four corners, the rest by chance
constexpr double least_slip_m = 1e-3;

/// Keys of one channel, straight from each to the next.
using Way = std::vector<Key>;

struct Motion {
    std::vector<ChannelRef> channels;
    std::vector<Way> ways;  ///< of each

    std::vector<ExercisedValue> at(double frame) const {
        std::vector<ExercisedValue> pose;
        for (std::size_t i = 0; i < channels.size(); ++i)
            pose.push_back({channels[i], sample_curve(compile_curve(ways[i]), frame)});
        return pose;
    }
};

double rest_within(const ExerciseRange& range) {
    return range.range.clamp(rest_of(range.channel.kind));
}

/// From rest to one end, to the other, and back.
Motion alone(const ExerciseRange& range) {
    const double rest = rest_within(range);
    const auto key = [](double share, double value) {
        return Key{share * frames, value, Interpolation::Linear};
    };
    return {{range.channel},
            {{key(0, rest), key(0.25, range.range.min), key(0.75, range.range.max), key(1, rest)}}};
}

/// From rest by corners and places drawn by chance, and back.
Motion together(const ExerciseRange& a, const ExerciseRange& b, std::mt19937& chance) {
    // Of the generator's own numbers, whose order a standard fixes; distributions differ between libraries.
    const auto share = [&] {
        return static_cast<double>(chance()) / static_cast<double>(std::mt19937::max());
    };
    std::vector<Vec2> points{{0, 0}, {0, 1}, {1, 0}, {1, 1}};
    while (points.size() < points_of_pair) points.emplace_back(share(), share());
    for (std::size_t i = points.size() - 1; i > 0; --i) std::swap(points[i], points[chance() % (i + 1)]);
    Motion motion{{a.channel, b.channel}, {}};
    for (int k = 0; k < 2; ++k) {
        const ExerciseRange& range = k == 0 ? a : b;
        Way way{{0, rest_within(range), Interpolation::Linear}};
        for (std::size_t i = 0; i < points.size(); ++i)
            way.push_back({frames * static_cast<double>(i + 1) / static_cast<double>(points.size() + 1),
                           range.range.min + points[i][k] * (range.range.max - range.range.min),
                           Interpolation::Linear});
        way.push_back({frames, rest_within(range), Interpolation::Linear});
        motion.ways.push_back(std::move(way));
    }
    return motion;
}

/// Pairs of parts that begin to touch.
class ContactWatch final : public ClipWatch {
public:
    ContactWatch(const Contacts& contacts, std::set<Contacts::Pair> known)
        : contacts_(contacts), known_(std::move(known)) {}

    void look(const Pose& pose, double frame) override {
        for (const Contacts::Pair& pair : contacts_.touching(pose, known_)) {
            known_.insert(pair);
            met_.emplace_back(pair, frame);
        }
    }
    void tell(ClipCheck& out) const override {
        for (const auto& [pair, frame] : met_)
            out.add("contact", pair.first,
                    fmt::format("'{}' touches '{}' {}", name_of(out.document, pair.first),
                                name_of(out.document, pair.second), out.at(frame)),
                    frame);
    }
    std::set<Contacts::Pair> met() const {
        std::set<Contacts::Pair> pairs;
        for (const auto& [pair, at] : met_) pairs.insert(pair);
        return pairs;
    }
    /// In the order in which they are told.
    PartId other(std::size_t i) const { return met_[i].first.second; }

private:
    const Contacts& contacts_;
    std::set<Contacts::Pair> known_;
    std::vector<std::pair<Contacts::Pair, double>> met_;
};

/// Whether any wheel that rolls is carried anywhere: only then it can slide, and measuring that takes long.
class CarriedWatch final : public ClipWatch {
public:
    CarriedWatch(const Document& document, const Evaluator& evaluator) {
        for (const Coupling& coupling : document.couplings)
            if (coupling.as<Roll>())
                if (const auto slot = evaluator.part_slot(coupling.driven().part())) wheels_.push_back(*slot);
    }
    void look(const Pose& pose, double) override {
        if (first_.empty())
            for (const std::size_t wheel : wheels_) first_.push_back(pose.world_from_part[wheel].translation);
        for (std::size_t i = 0; i < wheels_.size(); ++i)
            carried_ |= (pose.world_from_part[wheels_[i]].translation - first_[i]).norm() > least_slip_m;
    }
    void tell(ClipCheck&) const override {}
    bool carried() const { return carried_; }

private:
    std::vector<std::size_t> wheels_;
    std::vector<Vec3> first_;
    bool carried_ = false;
};

class Exercise {
public:
    Exercise(const Document& document, const ExerciseOptions& options, const Progress& progress)
        : document_(document), options_(options), progress_(progress) {}

    Result<ExerciseReport> run() {
        choose_ranges();
        if (report_.ranges.empty())
            return Error{"exercise.nothing", "nothing can be moved by hand here: make joints first", ""};
        const std::vector<Motion> motions = all_motions();
        for (std::size_t i = 0; i < motions.size(); ++i) {
            begun_ = static_cast<double>(i) / static_cast<double>(motions.size());
            share_ = 1.0 / static_cast<double>(motions.size());
            PIVRAK_CHECK(go_through(motions[i]));
            ++report_.motions;
        }
        return std::move(report_);
    }

private:
    void choose_ranges() {
        report_.ranges = exercise_ranges(document_, facts_);
        if (options_.parts.empty()) return;
        std::erase_if(report_.ranges, [&](const ExerciseRange& range) {
            return std::find(options_.parts.begin(), options_.parts.end(),
                             home_of(document_, range.channel.owner)) == options_.parts.end();
        });
    }

    std::vector<Motion> all_motions() const {
        const auto& ranges = report_.ranges;
        std::vector<Motion> motions;
        for (const ExerciseRange& range : ranges) motions.push_back(alone(range));
        std::mt19937 chance(options_.seed);
        const std::size_t count = ranges.size();
        for (std::size_t i = 0; i < options_.pairs && count > 1; ++i) {
            const std::size_t a = chance() % count, b = (a + 1 + chance() % (count - 1)) % count;
            motions.push_back(together(ranges[a], ranges[b], chance));
        }
        return motions;
    }

    /// The document with this motion as its only clip.
    Document with_clip(const Motion& motion) const {
        Document moved = document_;
        Clip clip = clip_or_first(document_);
        clip.name = "exercise";
        clip.first_frame = 0;
        clip.last_frame = frames;
        clip.loop = false;
        clip.tracks.clear();
        clip.layers.clear();
        for (std::size_t i = 0; i < motion.channels.size(); ++i)
            clip.track_or_new(motion.channels[i]).keys = motion.ways[i];
        moved.clips = {};
        moved.clips.set(clip);
        return moved;
    }

    Result<void> go_through(const Motion& motion) {
        const Document moved = with_clip(motion);
        PIVRAK_TRY(evaluator, Evaluator::compile(moved, {}, &facts_));
        const Clip& clip = *moved.clips.begin();
        std::vector<Finding> findings;
        const MomentWords say = [&](double frame) { return exercised_words(document_, motion.at(frame)); };
        ClipCheck check(moved, clip, evaluator, findings, say);
        check.watch_elements();
        const bool single = motion.channels.size() == 1;
        ContactWatch* contacts = options_.contacts ? watch_contacts(evaluator, single, check) : nullptr;
        auto carried = std::make_unique<CarriedWatch>(moved, evaluator);
        const CarriedWatch& wheels = *carried;
        check.watch(std::move(carried));
        bool cancelled = false;
        const Progress within([&](double, std::string_view) {
            cancelled = cancelled || !progress_.go_on(begun_ + share_ * 0.5, "exercising the rig");
            return !cancelled;
        });
        check.run(within);
        if (cancelled) return Error{"exercise.cancelled", "cancelled", ""};
        report_.poses += static_cast<std::size_t>(frames) + 1;
        if (const auto courses = chain_course(moved, clip.id, &facts_))
            tell_courses(moved, *courses, say, findings);
        if (contacts) met_.merge(contacts->met());
        if (single && wheels.carried()) PIVRAK_CHECK(tell_slip(moved, clip, motion, findings));
        std::size_t contact = 0;
        for (const Finding& finding : findings)
            keep(finding, finding.code == "contact" ? contacts->other(contact++) : PartId{}, motion);
        return {};
    }

    /// What touches as a single channel runs is not looked for again in pairs.
    ContactWatch* watch_contacts(const Evaluator& evaluator, bool single, ClipCheck& check) {
        if (!contacts_)
            contacts_.emplace(document_, evaluator);
        else
            contacts_->use(evaluator);
        auto watch = std::make_unique<ContactWatch>(*contacts_, single ? std::set<Contacts::Pair>{} : met_);
        ContactWatch* raw = watch.get();
        check.watch(std::move(watch));
        return raw;
    }

    /// How wheels slide along their way while one channel runs.
    Result<void> tell_slip(const Document& moved, const Clip& clip, const Motion& motion,
                           std::vector<Finding>& findings) const {
        const Progress within([&](double, std::string_view) {
            return progress_.go_on(begun_ + share_ * 0.75, "exercising the rig");
        });
        const auto slips = slip_check(moved, clip.id, within);
        if (!slips && slips.error().code == "slip.cancelled")
            return Error{"exercise.cancelled", "cancelled", ""};
        if (!slips) return {};
        for (const WheelSlip& wheel : slips->wheels) {
            if (wheel.slip_m < least_slip_m) continue;
            const auto& by_frame = wheel.slip_by_frame_m;
            const auto worst = std::max_element(by_frame.begin(), by_frame.end(),
                                                [](double a, double b) { return std::abs(a) < std::abs(b); });
            const double frame = slips->frames[static_cast<std::size_t>(worst - by_frame.begin())];
            findings.push_back({Stage::Keys,
                                "wheel.slips",
                                wheel.wheel,
                                fmt::format("'{}' has slid {} along its way {}", name_of(moved, wheel.wheel),
                                            format_length(wheel.slip_m, document_),
                                            exercised_words(document_, motion.at(frame))),
                                {},
                                "",
                                frame});
        }
        return {};
    }

    /// What a single channel brings about is not told again of a pair.
    void keep(const Finding& finding, PartId other, const Motion& motion) {
        ExerciseRow row{finding.code, finding.part, other, finding.message,
                        motion.at(finding.frame.value_or(0))};
        const bool told =
            motion.channels.size() > 1 &&
            std::any_of(report_.rows.begin(), report_.rows.end(), [&](const ExerciseRow& other) {
                return other.code == row.code && other.part == row.part && other.other == row.other;
            });
        if (!told) report_.rows.push_back(std::move(row));
    }

    const Document& document_;
    const ExerciseOptions& options_;
    const Progress& progress_;
    RigFacts facts_;
    ExerciseReport report_;
    std::optional<Contacts> contacts_;
    std::set<Contacts::Pair> met_;
    double begun_ = 0, share_ = 0;
};

}  // namespace

std::string exercised_words(const Document& document, const std::vector<ExercisedValue>& pose) {
    std::string words;
    for (const ExercisedValue& one : pose)
        words +=
            fmt::format("{}{} at {}", words.empty() ? "with " : " and ", channel_name(document, one.channel),
                        format_channel(one.channel.kind, one.value, document));
    return words;
}

Result<ExerciseReport> exercise(const Document& document, const ExerciseOptions& options,
                                const Progress& progress) {
    return Exercise(document, options, progress).run();
}

}  // namespace pivrak
