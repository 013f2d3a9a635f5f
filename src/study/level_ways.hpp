#pragma once
// Which lists of steps lead from one level to another: what a designer means by the flow of a game.

#include "plan/plan.hpp"

#include <set>
#include <vector>

namespace hestrel::study {

/// A list of steps, met in one level, loads, shows, switches to or places players in another.
struct LevelWay {
    plan::LevelId from; ///< unset: it can be met anywhere
    plan::LevelId to;
    plan::ListId list;     ///< a whole list, with its branches
    bool switches = false; ///< leaves `from`
    bool operator==(const LevelWay&) const = default;
};

/// Where the lists of a plan are met, and where they lead. Keeps a reference to the plan.
class LevelFlow {
public:
    explicit LevelFlow(const plan::Plan& plan);

    /// All ways of a plan, in the order of its lists, each once; none leads from a level to itself.
    /// A trigger is met in the level it belongs to, else in those whose area its shape meets; a
    /// menu in its level, else where lists open it. `next` and `back` lead along every edition,
    /// from where they count.
    [[nodiscard]] std::vector<LevelWay> ways() const;

    /// The levels in which a whole list can be met; an unset one: anywhere.
    [[nodiscard]] const std::set<plan::LevelId>& met_in(plan::ListId list) const {
        return met_in_[list];
    }
    /// The levels that `next` and `back` of a whole list can count from (docs/model.md, section 5:
    /// the one last switched to or started in): those it is met in, where players are switched to
    /// them, else those that they were switched to before they came there. An unset one: any.
    [[nodiscard]] std::set<plan::LevelId> counts_from(plan::ListId list) const;

    /// Where a switch of a whole list leads: by position, `next` or `back` along every edition.
    [[nodiscard]] std::vector<plan::LevelId> leads_to(const plan::SwitchStep& change,
                                                      plan::ListId list) const;

private:
    [[nodiscard]] std::vector<plan::LevelId> targets_of(const plan::Step& step,
                                                        plan::LevelId from) const;
    [[nodiscard]] std::vector<plan::LevelId>
    along_editions(const plan::SwitchStep& change, const std::set<plan::LevelId>& from) const;
    [[nodiscard]] std::set<plan::LevelId> counts_from(plan::LevelId met) const;
    void note_ways_on_foot();
    void note_switched_to();

    const plan::Plan& plan_;
    plan::Table<plan::ListId, std::set<plan::LevelId>> met_in_; ///< of whole lists
    /// Where players come from on foot.
    plan::Table<plan::LevelId, std::set<plan::LevelId>> before_;
    plan::Table<plan::LevelId, bool> switched_to_; ///< or started in
};

/// All ways of a plan, as `LevelFlow` says.
std::vector<LevelWay> level_ways(const plan::Plan& plan);

/// The levels in which a whole list can be met, as `LevelFlow` says.
std::set<plan::LevelId> met_in(const plan::Plan& plan, plan::ListId list);

} // namespace hestrel::study
