#pragma once

#include <string>
#include <vector>

#include "core/model/document.h"

namespace pivrak {

/// Every state of a project since it was opened, with the edit that made it. Documents share what they have
/// in common, so a step costs little.
class History {
public:
    explicit History(Document first) : states_{{std::move(first), "", {}}} {}

    const Document& document() const { return states_[now_].document; }
    /// Adds a state after the present one; states that had been undone are dropped.
    void push(Document document, std::string title, nlohmann::json step);

    bool can_undo() const { return now_ > 0; }
    bool can_redo() const { return now_ + 1 < states_.size(); }
    void undo() { --now_; }
    void redo() { ++now_; }
    /// Title of the edit that undo would take back, or redo do again. Pre: can_undo, can_redo.
    const std::string& undo_title() const { return states_[now_].title; }
    const std::string& redo_title() const { return states_[now_ + 1].title; }

    /// States in their order, undone ones too; the first came of no step.
    std::size_t size() const { return states_.size(); }
    std::size_t now() const { return now_; }
    const Document& document_at(std::size_t state) const { return states_[state].document; }
    const std::string& title_at(std::size_t state) const { return states_[state].title; }
    const nlohmann::json& step_at(std::size_t state) const { return states_[state].step; }

    /// The steps from the first state to the present one, as a job would name them.
    std::vector<nlohmann::json> steps() const;

    bool is_saved() const { return saved_ == static_cast<std::ptrdiff_t>(now_); }
    void mark_saved() { saved_ = static_cast<std::ptrdiff_t>(now_); }
    /// No state is on the disk.
    void mark_unsaved() { saved_ = -1; }

private:
    struct State {
        Document document;
        std::string title;
        nlohmann::json step;
    };
    std::vector<State> states_;
    std::size_t now_ = 0;
    std::ptrdiff_t saved_ = 0;  ///< -1 when the saved state was dropped
};

}  // namespace pivrak
