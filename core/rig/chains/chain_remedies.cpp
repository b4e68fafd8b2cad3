#include "core/rig/chains/chain_remedies.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <optional>

#include "core/model/edits/edits.h"

namespace pivrak {
namespace {

/// Where `off` is zero, from 0 on: a few steps of the secant, each one shortened when it does not help.
std::optional<double> zero_of(const std::function<std::optional<double>(double)>& off, double first_step,
                              double most, double tolerance) {
    double a = 0, b = first_step;
    auto at_a = off(a);
    if (!at_a) return std::nullopt;
    if (std::abs(*at_a) < tolerance) return a;
    for (int i = 0; i < 40; ++i) {
        auto at_b = off(b);
        for (int half = 0; half < 8 && !at_b; ++half) at_b = off(b = 0.5 * (a + b));
        if (!at_b || *at_b == *at_a) return std::nullopt;
        if (std::abs(*at_b) < tolerance) return b;
        const double next = b - *at_b * (b - a) / (*at_b - *at_a);
        a = b;
        at_a = at_b;
        b = std::clamp(next, -most, most);
        if (a == b) return std::nullopt;
    }
    return std::nullopt;
}

class Remedies {
public:
    Remedies(const Document& document, const Chain& chain)
        : document_(document),
          chain_(chain),
          loop_(chain_loop(document, chain)),
          plane_(world_from_rest(document, chain.frame)) {}

    std::vector<ChainRemedy> find() {
        const double needed = needed_length(loop_);
        if (needed == 0) return {};
        const auto whole = whole_links(chain_, needed / chain_.pitch_m);
        for (const int links : whole) {
            if (links < 4) continue;
            for (std::size_t i = 0; i < chain_.wheels.size(); ++i) {
                move(i, links, needed);
                turn(i, links);
            }
            pitch(links);
        }
        sag(whole[1]);
        std::stable_sort(found_.begin(), found_.end(),
                         [&](const ChainRemedy& a, const ChainRemedy& b) { return effort(a) < effort(b); });
        return std::move(found_);
    }

private:
    std::optional<double> excess(const ChainLoop& loop, int links) const {
        const double needed = needed_length(loop);
        if (needed == 0) return std::nullopt;
        return needed - links * loop.pitch_m;
    }
    double tolerance() const { return 1e-7 * chain_.pitch_m; }

    /// In pitches, roughly: what is easy to do comes first.
    double effort(const ChainRemedy& r) const {
        switch (r.kind) {
            case RemedyKind::Move:
                return std::abs(r.amount) / chain_.pitch_m;
            case RemedyKind::Turn:
                return 0.5 * std::abs(r.amount);
            case RemedyKind::Sag:
                return r.amount / chain_.pitch_m;
            case RemedyKind::Pitch:
                return 100 * std::abs(r.amount);
        }
        return 0;
    }

    /// Away from its neighbours, or towards them.
    Vec2 outwards(std::size_t i) const {
        const std::size_t n = loop_.circles.size();
        const Vec2 &before = loop_.circles[(i + n - 1) % n].centre,
                   &after = loop_.circles[(i + 1) % n].centre, &own = loop_.circles[i].centre;
        const Vec2 away = own - 0.5 * (before + after);
        if (away.norm() > 0.05 * (after - before).norm() || n == 2) return away.normalized();
        const Vec2 along = (after - before).normalized();
        return {along.y(), -along.x()};
    }

    void move(std::size_t i, int links, double needed) {
        if (i == loop_.reference) return;
        const Vec2 way = outwards(i);
        const auto at = [&](double by) {
            ChainLoop moved = loop_;
            moved.circles[i].centre += by * way;
            return excess(moved, links);
        };
        const double about = 0.5 * (links * chain_.pitch_m - needed);
        const double first = std::abs(about) > 1e-9 ? about : 1e-6;
        const auto by = zero_of(at, loop_.circles[i].side * first, 20 * chain_.pitch_m, tolerance());
        if (!by) return;
        found_.push_back({RemedyKind::Move, links, chain_.wheels[i].part, *by,
                          plane_.direction({*by * way.x(), *by * way.y(), 0})});
    }

    /// Arms: hinges about the plane's normal that carry a wheel, and not the plane.
    void turn(std::size_t i, int links) {
        const PartId wheel = chain_.wheels[i].part;
        for (const Part* arm = document_.parts.find(document_.parts.find(wheel)->parent); arm;
             arm = document_.parts.find(arm->parent)) {
            if (is_below(document_, chain_.frame, arm->id)) return;
            if (arm->joint.kind != JointKind::Hinge) continue;
            const Frame world = world_from_rest(document_, arm->id);
            const double way = world.axis(arm->joint.axis).dot(plane_.axis(2));
            const Vec2 pivot = plane_.inverse().point(world.translation).head<2>();
            const double reach = (loop_.circles[i].centre - pivot).norm();
            if (std::abs(way) < 0.999 || reach < 0.1 * chain_.pitch_m) continue;
            std::vector<bool> carried;
            for (const ChainWheel& w : chain_.wheels) carried.push_back(is_below(document_, w.part, arm->id));
            if (std::any_of(found_.begin(), found_.end(), [&](const ChainRemedy& r) {
                    return r.kind == RemedyKind::Turn && r.part == arm->id && r.links == links;
                }))
                continue;
            const auto at = [&](double by) {
                ChainLoop moved = loop_;
                const double c = std::cos(way * by), s = std::sin(way * by);
                for (std::size_t k = 0; k < carried.size(); ++k)
                    if (carried[k]) {
                        const Vec2 off = moved.circles[k].centre - pivot;
                        moved.circles[k].centre =
                            pivot + Vec2(c * off.x() - s * off.y(), s * off.x() + c * off.y());
                    }
                return excess(moved, links);
            };
            const auto by = zero_of(at, 0.2 * chain_.pitch_m / reach, 1.2, tolerance());
            if (by) found_.push_back({RemedyKind::Turn, links, arm->id, *by, {0, 0, 0}});
        }
    }

    void pitch(int links) {
        const auto at = [&](double share) {
            ChainLoop other = loop_;
            other.pitch_m *= 1 + share;
            for (std::size_t i = 0; i < other.circles.size(); ++i)
                if (chain_.wheels[i].teeth > 0)
                    other.circles[i].radius_m = pitch_radius(other.pitch_m, chain_.wheels[i].teeth);
            return excess(other, links);
        };
        if (const auto share = zero_of(at, 1e-3, 0.3, tolerance()))
            found_.push_back({RemedyKind::Pitch, links, {}, *share, {0, 0, 0}});
    }

    void sag(int links) {
        ChainLoop loop = loop_;
        loop.links = links;
        std::vector<Vec2> pins(static_cast<std::size_t>(links));
        const ChainFit fit = place_pins(loop, 0, pins);
        if (fit.placed && fit.slack_m > -tolerance())
            found_.push_back(
                {RemedyKind::Sag, links, chain_.wheels[chain_.slack_after].part, fit.sag_m, {0, 0, 0}});
    }

    const Document& document_;
    const Chain& chain_;
    ChainLoop loop_;
    Frame plane_;
    std::vector<ChainRemedy> found_;
};

}  // namespace

std::string_view word(RemedyKind kind) {
    static constexpr std::array<std::string_view, 4> words{"move", "turn", "sag", "pitch"};
    return words[static_cast<std::size_t>(kind)];
}

std::array<int, 2> whole_links(const Chain& chain, double links_needed) {
    const int upper = chain.pattern * static_cast<int>(std::ceil(links_needed / chain.pattern - 1e-6));
    return {upper - chain.pattern, upper};
}

std::vector<ChainRemedy> chain_remedies(const Document& document, const Chain& chain) {
    if (chain.ends) return {};
    return Remedies(document, chain).find();
}

std::string remedy_words(const Document& document, const Chain& chain, const ChainRemedy& remedy) {
    const Part* part = document.parts.find(remedy.part);
    const std::string name = part ? fmt::format("'{}'", part->name) : "";
    const std::string links = fmt::format("{} links", remedy.links);
    switch (remedy.kind) {
        case RemedyKind::Move:
            return fmt::format("move {} {} {}: {}", name,
                               format_length(std::abs(remedy.amount), LengthUnit::Millimetre, 2),
                               remedy.amount > 0 ? "outwards" : "inwards", links);
        case RemedyKind::Turn:
            return fmt::format("turn {} by {}: {}", name, format_angle(remedy.amount, 2), links);
        case RemedyKind::Sag:
            return fmt::format("let the run after {} sag {}: {}", name,
                               format_length(remedy.amount, LengthUnit::Millimetre, 1), links);
        case RemedyKind::Pitch:
            return fmt::format("pitch {:+.3f} %, {}: {}", 100 * remedy.amount,
                               format_length(chain.pitch_m * (1 + remedy.amount), LengthUnit::Millimetre, 3),
                               links);
    }
    return "";
}

void apply_remedy(Document& document, Chain& chain, const ChainRemedy& remedy) {
    chain.link_count = remedy.links;
    if (remedy.kind == RemedyKind::Move) {
        Frame goal = world_from_rest(document, remedy.part);
        goal.translation += remedy.way;
        align(document, remedy.part, goal, AlignWhat::Place);
    } else if (remedy.kind == RemedyKind::Turn) {
        Part arm = *document.parts.find(remedy.part);
        arm.parent_from_rest =
            arm.parent_from_rest * Frame{turn_about_axis(arm.joint.axis, remedy.amount), Vec3(0, 0, 0)};
        document.parts.set(arm);
    } else if (remedy.kind == RemedyKind::Pitch) {
        chain.pitch_m *= 1 + remedy.amount;
    }
}

}  // namespace pivrak
