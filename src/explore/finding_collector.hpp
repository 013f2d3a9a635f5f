#pragma once
// What all searches for findings share: how a finding is written down, what it belongs to, the way
// to it; and the findings that settled players and hurried ones alike can run into.

#include "explore/findings.hpp"
#include "flow/zones.hpp"
#include "plan/owner.hpp"

#include <functional>
#include <set>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace hestrel::explore {

class FindingCollector {
public:
    FindingCollector(const FindingCollector&) = delete;
    FindingCollector& operator=(const FindingCollector&) = delete;

protected:
    using Trace = std::optional<Way>;
    using Owner = plan::Owner;

    explicit FindingCollector(Explorer& explorer);
    ~FindingCollector() = default;

    // Writing one down.

    /// As bad as its kind. Returns it for what else it carries.
    plan::Finding& add(std::string_view name, const Owner& owner, const std::string& message,
                       Trace way);
    /// All of them that the plan does not allow, errors first.
    [[nodiscard]] std::vector<Found> take();

    // Where it is, and how to get there.

    [[nodiscard]] Trace to(std::uint32_t situation) const { return explorer_.trace_to(situation); }
    /// To where an outcome was met first, and through it.
    [[nodiscard]] Trace through(const Outcome& outcome) const;
    /// One move from one situation. An outcome stands for the moves from many, alike in all that
    /// the move asks about and no more.
    struct Made {
        std::uint32_t situation = 0;
        std::uint32_t leads_to = 0;
        const Outcome* outcome = nullptr;
    };
    [[nodiscard]] Trace through(const Made& made) const;
    /// All moves that are `wanted` by what goes on in them, nearest the start first.
    void for_moves(const std::function<bool(const Effect&)>& wanted,
                   const std::function<void(const Made&, const Effect&)>& what);
    /// What the last move of a way belongs to; the start where there is none.
    [[nodiscard]] Owner last_of(const Way& way) const;
    [[nodiscard]] Owner owner_in(const Effect& effect, const Made& made) const;
    [[nodiscard]] Owner level_owner(plan::LevelId level) const;
    /// The levels whose area a player is inside of.
    [[nodiscard]] std::vector<plan::LevelId> stood_in(const PlayerNow& player) const;
    /// The levels shown in a situation, by name: "quay, net-shed", or "nothing".
    [[nodiscard]] std::string shown_in(const Word* row) const;
    /// Outcomes in which something is noted, unloaded, broken or ended, in the order in which they
    /// were met.
    [[nodiscard]] std::vector<const Outcome*> eventful_outcomes() const;

    // Findings.

    /// The first of `all` of each device and budget, if it is over and more than in `already`;
    /// budgets that one way breaks are one finding.
    void memory(const std::vector<WorstUse>& all, std::string_view when_settled,
                std::string_view in_a_move, const std::vector<WorstUse>& already);
    /// The same of frames.
    void frames(const std::vector<WorstFrame>& all, std::string_view when_settled,
                std::string_view in_a_move, const std::vector<WorstFrame>& already);
    void broken_rules();
    void add_broken(const plan::Breach& what, const std::string& when, Trace way);
    void circles();
    /// Steps that lead out of the edition, and switches refused, in a move.
    void refusals(const Outcome& outcome, const Effect& effect);
    /// Levels unloaded around somebody who stands there, in a move.
    void unloaded_under(const Made& made, const Effect& effect);

    Explorer& explorer_;
    const plan::Plan& plan_;
    const flow::Zones zones_;

private:
    [[nodiscard]] Owner owner_of_last_list(const Way& way, const Effect* last) const;

    std::vector<Found> found_;
    std::set<std::pair<flow::EventKind, plan::Thing>> refused_;
    std::set<plan::LevelId> under_;
};

/// Findings about what never happens (findings_never.cpp). Only where all was looked at.
std::vector<Found> never_findings(Explorer& explorer);

} // namespace hestrel::explore
