#pragma once

#include "core/model/document.h"

namespace pivrak {

/// What a tidy tree has none of.
enum class TreeFaultKind {
    EmptyNode,      ///< no shape, nothing below it, nothing that refers to it
    SingleChain,    ///< no shape and one child: it only hands that child on
    DuplicateName,  ///< another part has the same name
    BakedScale,     ///< its node in the file was stretched or mirrored; that went into the shape at intake
};
std::string_view fault_word(TreeFaultKind kind);

struct TreeFault {
    TreeFaultKind kind;
    PartId part;
    std::string message;
};

/// All faults, in the order of the tree.
std::vector<TreeFault> tree_faults(const Document& document);

/// Mends every fault of a kind; answers how many parts it concerned. No vertex of any part moves in the
/// world. Nodes that joints, couplings, keys or sets refer to are left alone.
std::size_t mend_tree(Document& document, TreeFaultKind kind);

/// Takes a part without a shape out of the tree; what it carries goes to what carries it. Pre: it is a datum.
void dissolve(Document& document, PartId part);

/// Everything with a shape below a part comes directly under it; datums between that nothing refers to go.
/// Answers how many parts went.
std::size_t flatten(Document& document, PartId top);

/// Puts a new datum over parts, at the middle of the base of their bounds, under their common carrier.
PartId group_parts(Document& document, const std::vector<PartId>& parts, const std::string& name);

}  // namespace pivrak
