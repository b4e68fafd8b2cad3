#pragma once

#include "app/stages/kit/form_card.h"
#include "core/rig/gears/gear_pair.h"

namespace pivrak {

/// A pair that would come of a step, and how it would run.
struct TriedPair {
    GearPair pair;
    GearPairMeasure measure;
};

/// The pair to be made from two picked parts.
class NewPairCard : public FormCard {
    Q_OBJECT

public:
    explicit NewPairCard(Session& session);
    void refresh();

protected:
    std::string lead() const override;
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;
    void doStep() override { session_.run(step()); }
    void ask(const nlohmann::json& step) override;
    void forget() override { tried_->forget(); }

private:
    void addMember(const char* object_name, const QString& label, const char* teeth, const char* radius);
    void countTeeth();
    void tellPair(const Result<TriedPair>& found);

    QPushButton* swap_;
    std::vector<PartId> counted_for_;
    Trial<Result<TriedPair>>* tried_;
};

}  // namespace pivrak
