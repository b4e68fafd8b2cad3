#pragma once

#include <QLineEdit>
#include <optional>

#include "app/session/session.h"

namespace pivrak {

/// The turn of a joint that has one, else its shift: what sweeps go through.
ChannelKind swept_kind(const Part& part);

/// Two fields for the range in which a joint is swept. They show values as the project does and keep them
/// whole: what is shown rounded is swept as it was proposed or typed.
class SweptRange {
public:
    SweptRange(Session& session, const char* from_name, const char* to_name);

    QLineEdit* from() const { return ends_[0].field; }
    QLineEdit* to() const { return ends_[1].field; }
    /// The limits of a part, where there are some, otherwise as far to either side [rad or m]. What was typed
    /// stays while the same part is proposed for.
    void propose(const Part& part, double turn_reach_rad, double shift_reach_m);
    /// What the fields ask for [rad or m], shown as the project shows it. Tells what cannot be read, and
    /// answers none.
    std::optional<Limits> read(const Part& part);

private:
    struct End {
        QLineEdit* field;
        double value = 0;
        QString shown;  ///< for that value
    };
    void put(End& end, ChannelKind kind, double value);

    Session& session_;
    End ends_[2];
    PartId proposed_for_;
    ChannelKind proposed_kind_ = ChannelKind::Turn;
};

}  // namespace pivrak
