#include "core/rig/gears/gear_search.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <map>
#include <numeric>

namespace pivrak {
namespace {

using Pair = std::pair<int, int>;

/// Drivers and drivens apart: a product of teeth, and one way to make it of so many gears in range.
struct Products {
    std::vector<std::int64_t> values;  ///< rising
    std::map<std::int64_t, std::vector<int>> gears;
};

/// Of every product the one with the most even gears: those make the smallest wheels.
Products products_of(int count, int least, int most) {
    Products out;
    out.gears[1] = {};
    for (int stage = 0; stage < count; ++stage) {
        std::map<std::int64_t, std::vector<int>> longer;
        for (const auto& [value, gears] : out.gears)
            for (int z = gears.empty() ? least : gears.back(); z <= most; ++z) {
                auto& known = longer[value * z];
                std::vector<int> more = gears;
                more.push_back(z);
                if (known.empty() || std::accumulate(more.begin(), more.end(), 0) <
                                         std::accumulate(known.begin(), known.end(), 0))
                    known = std::move(more);
            }
        out.gears = std::move(longer);
    }
    for (const auto& entry : out.gears) out.values.push_back(entry.first);
    return out;
}

GearAnswer answer_of(std::vector<Pair> stages, double wanted) {
    GearAnswer answer;
    std::sort(stages.begin(), stages.end(), [](const Pair& a, const Pair& b) {
        return static_cast<double>(a.second) / a.first > static_cast<double>(b.second) / b.first;
    });
    double top = 1, bottom = 1;
    for (const auto& [driver, driven] : stages) {
        top *= driven, bottom *= driver;
        answer.teeth += driver + driven;
    }
    answer.stages = std::move(stages);
    answer.ratio = top / bottom;
    answer.error_ppm = 1e6 * (answer.ratio / wanted - 1);
    return answer;
}

bool better(const GearAnswer& a, const GearAnswer& b) {
    const double ea = std::abs(a.error_ppm), eb = std::abs(b.error_ppm);
    if (std::abs(ea - eb) > 1e-6) return ea < eb;
    return a.teeth != b.teeth ? a.teeth < b.teeth : a.stages < b.stages;
}

/// Keeps the best answers, each ratio with its smallest train.
class Best {
public:
    Best(double wanted, std::size_t most) : wanted_(wanted), most_(most) {}
    double worst_ppm() const { return answers_.size() < most_ ? 1e300 : std::abs(answers_.back().error_ppm); }
    void offer(std::vector<Pair> stages) {
        GearAnswer answer = answer_of(std::move(stages), wanted_);
        const auto same = std::find_if(answers_.begin(), answers_.end(), [&](const GearAnswer& a) {
            return std::abs(a.ratio - answer.ratio) < 1e-12 * a.ratio;
        });
        if (same != answers_.end()) {
            if (better(answer, *same)) *same = std::move(answer);
        } else {
            answers_.push_back(std::move(answer));
        }
        std::sort(answers_.begin(), answers_.end(), better);
        if (answers_.size() > most_) answers_.pop_back();
    }
    std::vector<GearAnswer> take() { return std::move(answers_); }

private:
    double wanted_;
    std::size_t most_;
    std::vector<GearAnswer> answers_;
};

/// Each driven gear with the driver that makes the pairs most alike.
std::vector<Pair> matched(std::vector<int> drivers, std::vector<int> drivens) {
    std::sort(drivers.begin(), drivers.end());
    std::sort(drivens.begin(), drivens.end());
    std::vector<Pair> pairs;
    for (std::size_t i = 0; i < drivers.size(); ++i) pairs.emplace_back(drivers[i], drivens[i]);
    return pairs;
}

std::vector<GearAnswer> search_free(const GearSearch& s) {
    const Products products = products_of(s.stages, s.least_teeth, s.most_teeth);
    Best best(s.ratio, s.answers);
    for (const std::int64_t bottom : products.values) {
        const double wanted = s.ratio * static_cast<double>(bottom);
        const auto at = std::lower_bound(products.values.begin(), products.values.end(), wanted);
        // The nearest products on both sides.
        for (auto it = at; it != products.values.end() && it - at < 2; ++it)
            if (std::abs(1e6 * (static_cast<double>(*it) / wanted - 1)) <= best.worst_ppm())
                best.offer(matched(products.gears.at(bottom), products.gears.at(*it)));
        for (auto it = at; it != products.values.begin() && at - it < 2;) {
            --it;
            if (std::abs(1e6 * (static_cast<double>(*it) / wanted - 1)) <= best.worst_ppm())
                best.offer(matched(products.gears.at(bottom), products.gears.at(*it)));
        }
    }
    return best.take();
}

/// Pairs of one sum: few enough to try every row of them.
std::vector<GearAnswer> search_with_sum(const GearSearch& s) {
    std::vector<Pair> pairs;
    for (int z = s.least_teeth; z <= s.most_teeth; ++z)
        if (const int other = s.teeth_in_pair - z; other >= s.least_teeth && other <= s.most_teeth)
            pairs.emplace_back(z, other);
    Best best(s.ratio, s.answers);
    std::vector<Pair> row;
    const auto extend = [&](auto&& self, std::size_t from, double ratio) -> void {
        if (row.size() == static_cast<std::size_t>(s.stages)) {
            if (std::abs(1e6 * (ratio / s.ratio - 1)) <= best.worst_ppm()) best.offer(row);
            return;
        }
        for (std::size_t i = from; i < pairs.size(); ++i) {
            row.push_back(pairs[i]);
            self(self, i, ratio * pairs[i].second / pairs[i].first);
            row.pop_back();
        }
    };
    extend(extend, 0, 1);
    return best.take();
}

}  // namespace

std::vector<GearAnswer> find_gear_trains(const GearSearch& search) {
    const bool sound = search.ratio > 0 && std::isfinite(search.ratio) && search.stages >= 1 &&
                       search.stages <= 3 && search.least_teeth >= 3 &&
                       search.most_teeth >= search.least_teeth && search.most_teeth <= 400;
    if (!sound) return {};
    return search.teeth_in_pair > 0 ? search_with_sum(search) : search_free(search);
}

std::vector<int> even_planets(int sun_teeth, int ring_teeth, int most) {
    std::vector<int> counts;
    for (int n = 2; n <= most; ++n)
        if ((sun_teeth + ring_teeth) % n == 0) counts.push_back(n);
    return counts;
}

}  // namespace pivrak
