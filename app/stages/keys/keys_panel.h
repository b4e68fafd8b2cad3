#pragma once

#include <QCheckBox>
#include <QTableWidget>

#include "app/stages/keys/key_edit_card.h"
#include "app/stages/kit/stage_panel.h"

namespace pivrak {

/// Keys of a channel of the picked parts, and the clip they belong to.
class KeysPanel : public StagePanel {
    Q_OBJECT

public:
    explicit KeysPanel(Session& session, QWidget* parent = nullptr);

protected:
    void refresh() override;

private:
    nlohmann::json stepHere(const char* operation) const;
    void setKey();
    void listKeys();
    void showChannels();
    ChannelRef channel() const;
    QString shownValue(double value) const;
    void applyClip();
    /// With the typed name, or one that is free; with the present clip's keys when asked.
    void addClip(bool keys);
    QComboBox* channel_;
    QLineEdit* value_;
    QComboBox* interpolation_;
    QPushButton *set_, *remove_, *new_clip_, *copy_clip_, *remove_clip_;
    QLabel* state_;
    QTableWidget* keys_;
    QLineEdit *clip_name_, *first_, *last_, *rate_;
    QCheckBox* loop_;
};

/// Keys a channel of the picked parts, or all that can be moved, at the present frame. Answers why not, or
/// nothing when it can be done.
QString setKeyObstacle(const Session& session);
void setKeyHere(Session& session, const std::string& interpolation = {}, const std::string& channel = "all");

}  // namespace pivrak
