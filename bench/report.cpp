#include "bench/report.h"

#include <algorithm>

namespace pivrak::bench {

void Collector::ReportRuns(const std::vector<Run>& runs) {
    for (const Run& run : runs) {
        if (run.run_type != Run::RT_Iteration) continue;
        const std::string name = run.run_name.function_name;
        seconds_[name].push_back(run.real_accumulated_time / static_cast<double>(run.iterations));
        for (const auto& [key, value] : run.counters) counters_[name][key] = value;
    }
    ConsoleReporter::ReportRuns(runs);
}

double Collector::seconds(const std::string& name) const {
    const auto found = seconds_.find(name);
    if (found == seconds_.end()) return 0;
    // What else the machine does only ever adds.
    return *std::min_element(found->second.begin(), found->second.end());
}

double Collector::counter(const std::string& name, const std::string& counter) const {
    const auto found = counters_.find(name);
    return found == counters_.end() || !found->second.contains(counter) ? 0 : found->second.at(counter);
}

}  // namespace pivrak::bench
