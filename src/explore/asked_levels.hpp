#pragma once
// What the game of an edition goes by of each level: whether anything asks for it at all, whether
// it has come, whether it is shown. What only routes ask about does not count.

#include "explore/possible.hpp"
#include "plan/level_tree.hpp"

#include <vector>

namespace hestrel::explore {

class AskedLevels {
public:
    /// In that edition; unset: the plan has none. `also`: levels that somebody else asks all about.
    AskedLevels(const plan::Plan& plan, const plan::LevelTree& tree, plan::EditionId edition,
                const std::vector<plan::LevelId>& also);

    /// A list, condition, gate, rule, purpose, trigger, menu, fact or start names it.
    [[nodiscard]] bool at_all(plan::LevelId level) const { return at_all_[level]; }
    /// Anything goes by whether it is loaded, or still on its way; but for a return to a checkpoint
    /// that waits for it.
    [[nodiscard]] bool loaded(plan::LevelId level) const { return loaded_[level]; }
    /// Anything goes by whether it is shown, but for such a return; that it costs time in a frame
    /// counts, too.
    [[nodiscard]] bool shown(plan::LevelId level) const { return shown_[level]; }
    /// A step hides or unloads it, but for switches.
    [[nodiscard]] bool hidden(plan::LevelId level) const { return hidden_[level]; }
    /// A step unloads all levels but some.
    [[nodiscard]] bool keeps_only() const { return keeps_only_; }

private:
    using Levels = plan::Table<plan::LevelId, bool>;

    void add(const std::vector<plan::LevelId>& levels, bool loaded, bool shown);
    void add(plan::LevelId level, bool loaded, bool shown);
    void add_families(const std::vector<plan::LevelId>& levels);
    void add_conditions();
    template <class What>
    void add_step(const What& what);
    void add_things();
    void add_rules();
    void add_starts();
    void add_above();

    const plan::Plan& plan_;
    const plan::LevelTree& tree_;
    plan::EditionId edition_;
    Possible possible_;
    Levels at_all_, loaded_, shown_, hidden_;
    bool keeps_only_ = false;
};

} // namespace hestrel::explore
