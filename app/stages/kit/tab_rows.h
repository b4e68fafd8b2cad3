#pragma once

#include <QFrame>
#include <QPushButton>
#include <vector>

namespace pivrak {

/// Buttons that choose one of several pages, in as many rows as their words need in the width there is.
class TabRows : public QFrame {
    Q_OBJECT

public:
    explicit TabRows(QWidget* parent = nullptr);
    /// The first one is chosen.
    QPushButton* add(const QString& words);
    const std::vector<QPushButton*>& buttons() const { return buttons_; }

    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;
    QSize sizeHint() const override { return {200, heightForWidth(240)}; }
    QSize minimumSizeHint() const override { return {0, heightForWidth(width())}; }

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    /// How many stand in each row when none is wider than that.
    std::vector<int> rows(int width) const;
    void lay();

    std::vector<QPushButton*> buttons_;
    std::vector<int> widths_;  ///< that each needs while it is chosen
};

}  // namespace pivrak
