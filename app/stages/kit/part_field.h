#pragma once

#include <QPushButton>
#include <vector>

#include "app/session/session.h"

namespace pivrak {

/// A field that holds parts: clicked, it takes those that are picked.
class PartField : public QPushButton {
    Q_OBJECT

public:
    PartField(Session& session, const char* object_name, const QString& empty_text, bool many = false);
    /// Parts that still exist.
    std::vector<PartId> parts() const;
    PartId part() const;
    void setParts(std::vector<PartId> parts);
    /// Names of the parts, after they may have changed.
    void refresh();

signals:
    void taken();

protected:
    void resizeEvent(QResizeEvent* event) override;
    void showEvent(QShowEvent* event) override;

private:
    Session& session_;
    QString empty_text_;
    bool many_;
    std::vector<PartId> parts_;
};

/// A part's name; empty for one that is gone.
QString nameOf(const Document& document, PartId part);

/// Ids as an operation takes them.
nlohmann::json part_ids(const std::vector<PartId>& parts);

}  // namespace pivrak
