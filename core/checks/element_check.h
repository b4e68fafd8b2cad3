#pragma once

#include "core/checks/findings.h"

namespace pivrak {

/// Where an element's check looks and puts what it finds.
class ElementCheck {
public:
    ElementCheck(const Document& document, RigFacts& facts, std::vector<Finding>& findings)
        : document(document), tree(document), facts(facts), findings_(findings) {}

    const Document& document;
    const Tree tree;
    RigFacts& facts;

    void add(Stage stage, std::string code, PartId part, std::string message, nlohmann::json fix = {},
             std::string fix_title = "") {
        findings_.push_back(
            {stage, std::move(code), part, std::move(message), std::move(fix), std::move(fix_title)});
    }

private:
    std::vector<Finding>& findings_;
};

// For every kind, defined in its folder: what is wrong with an element at rest.
#define PIVRAK_TABLE(Type, table) void check(const Type& element, ElementCheck& out);
#define PIVRAK_COUPLING(Type) void check(const Type& element, ElementCheck& out);
#define PIVRAK_FACET(Type, facet) void check(const Type& element, const Part& part, ElementCheck& out);
#include "core/elements/kinds.def"

}  // namespace pivrak
