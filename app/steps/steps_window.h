#pragma once

#include <QDialog>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>

#include "app/session/session.h"
#include "app/shell/questions.h"

namespace pivrak {

/// Every step since the project was opened. Goes back and on to any of them; some in a row are taken again on
/// what is picked, or kept as a job for other models.
class StepsWindow : public QDialog {
    Q_OBJECT

public:
    StepsWindow(Session& session, const Questions& questions, QWidget* parent);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void fill();
    void refresh();
    /// The first and last of the rows that are marked; none when nothing is, or not in a row.
    std::optional<std::pair<std::size_t, std::size_t>> marked() const;
    void repeat();
    void saveJob();

    Session& session_;
    const Questions& questions_;
    QListWidget* list_;
    QLabel* facts_;
    QPushButton *go_, *repeat_, *save_;
    std::size_t filled_ = 0;
};

}  // namespace pivrak
