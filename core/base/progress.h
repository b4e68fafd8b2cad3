#pragma once

#include <functional>
#include <string_view>

namespace pivrak {

/// How long work tells its caller how far it is, and learns whether to go on.
/// A default-made Progress is silent and never cancels.
class Progress {
public:
    /// Called with a fraction in [0, 1] and what is being done; answers false to cancel.
    using Callback = std::function<bool(double fraction, std::string_view what)>;

    Progress() = default;
    explicit Progress(Callback callback) : callback_(std::move(callback)) {}

    /// Reports, and answers whether the work should go on.
    bool go_on(double fraction, std::string_view what) const {
        return !callback_ || callback_(fraction, what);
    }

private:
    Callback callback_;
};

}  // namespace pivrak
