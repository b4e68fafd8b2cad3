#pragma once

#include <QTableWidget>

#include "app/session/session.h"
#include "app/shell/theme.h"
#include "app/stages/kit/lower_area.h"

namespace pivrak {

/// The pieces that a preview of breaking apart would make, or else the picked parts and what hangs below
/// them: colour, name, triangles, size, material. A click picks.
class PieceTable : public QWidget {
    Q_OBJECT

public:
    PieceTable(Session& session, QWidget* parent = nullptr);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    std::vector<PartId> listed() const;
    void addRow(int row, std::size_t number, PartId part);
    Session& session_;
    QTableWidget* table_;
    LowerArea* area_;
    bool filling_ = false;
};

}  // namespace pivrak
