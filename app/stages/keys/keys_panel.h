#pragma once

#include <QTableWidget>

#include "app/stages/keys/clip_card.h"
#include "app/stages/keys/key_edit_card.h"
#include "app/stages/keys/moves_card.h"
#include "app/stages/keys/see_card.h"
#include "app/stages/kit/stage_panel.h"

namespace pivrak {

/// Keys of a channel of the picked parts, and the clip they belong to.
class KeysPanel : public StagePanel {
    Q_OBJECT

public:
    KeysPanel(Session& session, Look& look, QWidget* parent = nullptr);

protected:
    void refresh() override;

private:
    nlohmann::json stepHere(const char* operation) const;
    void setKey();
    void listKeys();
    void showChannels();
    ChannelRef channel() const;
    QComboBox* channel_;
    QLineEdit* value_;
    QComboBox* interpolation_;
    std::optional<ChannelRef> driverOf(ChannelRef channel) const;
    QPushButton *set_, *remove_, *driver_;
    QLabel* state_;
    QTableWidget* keys_;
    ClipCard* clips_;
    ClipExtrasCard* extras_;
    SeeCard* see_;
};

/// Keys a channel of the picked parts, or all that can be moved, at the present frame. Answers why not, or
/// nothing when it can be done.
QString setKeyObstacle(const Session& session);
void setKeyHere(Session& session, const std::string& interpolation = {}, const std::string& channel = "all");

}  // namespace pivrak
