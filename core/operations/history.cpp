#include "core/operations/history.h"

namespace pivrak {

void History::push(Document document, std::string title, nlohmann::json step) {
    if (saved_ > static_cast<std::ptrdiff_t>(now_)) saved_ = -1;
    states_.resize(now_ + 1, states_.front());
    states_.push_back({std::move(document), std::move(title), std::move(step)});
    ++now_;
}

std::vector<nlohmann::json> History::steps() const {
    std::vector<nlohmann::json> steps;
    for (std::size_t i = 1; i <= now_; ++i) steps.push_back(states_[i].step);
    return steps;
}

}  // namespace pivrak
