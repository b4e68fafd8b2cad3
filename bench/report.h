#pragma once

#include <benchmark/benchmark.h>

#include <map>
#include <string>

namespace pivrak::bench {

/// Keeps the time per iteration of each benchmark by its name, so that ratios can be taken in one run.
class Collector : public benchmark::ConsoleReporter {
public:
    Collector() : ConsoleReporter(OO_None) {}
    void ReportRuns(const std::vector<Run>& runs) override;
    /// Seconds for one iteration, the least of the repetitions; zero when it did not run.
    double seconds(const std::string& name) const;
    double counter(const std::string& name, const std::string& counter) const;

private:
    std::map<std::string, std::vector<double>> seconds_;
    std::map<std::string, std::map<std::string, double>> counters_;
};

}  // namespace pivrak::bench
