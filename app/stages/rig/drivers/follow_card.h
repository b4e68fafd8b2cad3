#pragma once

#include "app/stages/kit/form_card.h"

namespace pivrak {

/// "This follows that": in proportion, or from one pose of both to another.
class FollowCard : public FormCard {
    Q_OBJECT

public:
    explicit FollowCard(Session& session);
    void refresh();

protected:
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;
    void doStep() override;

private:
    /// What both stand at, at one end of a range [rad or m].
    struct End {
        ChannelRef leads, follows;
        double driver, driven;
    };
    /// The end, when it was taken from what leads and follows now.
    const End* present(const std::optional<End>& end) const;
    bool lastLeads() const;
    std::vector<PartId> followers() const;
    /// None while it is not said, or has no such channel.
    std::optional<ChannelRef> driver() const;
    std::optional<ChannelRef> firstDriven() const;
    std::optional<ChannelRef> channelAt(PartId part, const char* argument) const;
    void take(std::optional<End>& end);
    void addPoint();
    void showEnds();

    QWidget* posing_;
    QPushButton *from_, *to_, *point_;
    QLabel* ends_;
    std::optional<End> from_end_, to_end_;
};

}  // namespace pivrak
