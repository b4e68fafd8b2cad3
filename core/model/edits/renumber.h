#pragma once

#include "core/model/document.h"

namespace pivrak {

/// Every id of a document, and wherever one is named, so much larger: it then stands beside a document that
/// uses smaller ones.
void renumber(Document& document, std::uint64_t by);

/// Everything of one document beside what another one has: parts, shapes, the rig, clips that have keys,
/// sets. Elements and clips whose name is taken get the next free one. Answers what was renamed, for a
/// person. Pre: no id of `added` is one of `document`'s.
std::vector<std::string> add_document(Document& document, const Document& added);

}  // namespace pivrak
