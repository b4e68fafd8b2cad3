#pragma once

#include "app/session/session.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// Joint, axis and limits of the picked parts; a change applies to all of them.
class JointCard : public Card {
    Q_OBJECT

public:
    explicit JointCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void apply(nlohmann::json change);
    void applyLimits();
    void takePresentAs(const char* end);
    ChannelKind channel() const;
    QString shown(double value) const;
    void showValue();
    void showChannels(const Joint& joint);
    Session& session_;
    QComboBox *kind_, *axis_, *channel_;
    QLineEdit *value_, *min_, *max_;
    QPushButton *take_min_, *take_max_, *free_, *rest_;
    QCheckBox *locked_, *sizes_;
};

}  // namespace pivrak
