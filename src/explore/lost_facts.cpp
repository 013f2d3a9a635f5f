#include "explore/lost_facts.hpp"

#include "plan/questions.hpp"

#include <algorithm>
#include <functional>
#include <map>
#include <optional>
#include <queue>
#include <set>

namespace hestrel::explore {

using plan::FactId;
using plan::ListId;

namespace {

/// Situations that one search looks at, fewest moves first.
constexpr std::size_t most_looked_at = 50'000;

/// Which facts each list goes by, and which it sets or resets.
struct ListFacts {
    explicit ListFacts(const plan::Plan& plan) : reads(plan.lists.size()), sets(plan.lists.size()) {
        for (const plan::Trigger& trigger : plan.triggers)
            add_reads(plan, trigger.steps, trigger.when);
        for (const plan::Item& item : plan.items) add_reads(plan, item.steps, item.when);
        for (const ListId list : plan.lists.ids()) {
            for (const plan::Step& step : plan.lists[list].steps)
                look_at(plan, plan::top_list(plan, list), step);
        }
    }

    plan::Table<ListId, std::set<FactId>> reads;
    plan::Table<ListId, std::set<FactId>> sets;

private:
    void add_reads(const plan::Plan& plan, ListId list, plan::ConditionId condition) {
        if (!list || !condition) return;
        for (const plan::Term& term : plan.conditions[condition].terms)
            if (term.operation == plan::Operation::fact) reads[list].insert(term.fact);
    }
    void look_at(const plan::Plan& plan, ListId list, const plan::Step& step) {
        if (const auto* wait = std::get_if<plan::WaitStep>(&step.what)) {
            add_reads(plan, list, wait->until);
        } else if (const auto* cases = std::get_if<plan::CaseStep>(&step.what)) {
            for (const plan::Case& each : cases->cases) add_reads(plan, list, each.when);
        } else if (const auto* set = std::get_if<plan::SetStep>(&step.what)) {
            for (const plan::Assignment& each : set->facts) sets[list].insert(each.fact);
        } else if (const auto* reset = std::get_if<plan::ResetStep>(&step.what)) {
            sets[list].insert(reset->facts.begin(), reset->facts.end());
            if (!reset->session) return;
            for (const FactId fact : plan.facts.ids())
                if (plan.facts[fact].lifetime != plan::Lifetime::saved) sets[list].insert(fact);
        }
    }
};

/// Where a slot stands after a move.
flow::FactSlot slot_after(const Explorer& explorer, std::uint32_t from, flow::FactSlot slot,
                          const Outcome& outcome) {
    const flow::FactSlots& slots = explorer.layout().slots;
    const flow::PlayerId whose = slots.player(slot);
    if (!whose) return slot;
    const std::vector<std::uint32_t> before = explorer.exchanged_by(from, outcome);
    const auto now = std::find(before.begin(), before.end(), whose.value);
    return slots.of(slots.fact(slot),
                    flow::PlayerId{static_cast<std::uint32_t>(now - before.begin())});
}

/// Looks for one fact.
class LossSearch {
public:
    /// `is_initial`: as long as the fact has its initial value; else as long as it has not.
    LossSearch(Explorer& explorer, const ListFacts& lists, FactId fact, bool is_initial)
        : explorer_(explorer), lists_(lists), fact_(fact),
          initial_(flow::fact_value(explorer.plan().facts[fact_].initial)),
          is_initial_(is_initial) {}

    std::optional<ReadFact> look(const std::vector<Departure>& departures) {
        for (const Departure& each : departures) {
            const std::size_t depth = explorer_.depth_of(each.from) + 1;
            reach({each.to, each.slot}, {depth, {each.from, each.slot}, each.taken, true});
        }
        std::size_t looked_at = 0;
        while (!waiting_.empty() && looked_at < most_looked_at) {
            const auto [depth, at] = waiting_.top();
            waiting_.pop();
            if (depth != reached_.at(at).depth) continue;
            ++looked_at;
            std::optional<ReadFact> found;
            explorer_.for_successors(
                at.first, [&, from = at, so_far = depth](std::uint32_t to, const Outcome& outcome) {
                    if (found || explorer_.launches(outcome)) return;
                    const Runs runs = runs_of(outcome);
                    if (runs.by) {
                        found = ReadFact{fact_, runs.by, trace_to(from, outcome.taken)};
                        return;
                    }
                    if (to >= explorer_.visited() || runs.sets) return; // cut off there
                    const At next{to, slot_after(explorer_, from.first, from.second, outcome)};
                    if (stays(next)) reach(next, {so_far + 1, from, outcome.taken, false});
                });
            if (found) return found;
        }
        return std::nullopt;
    }

private:
    /// A situation, and where the fact stands in it: players who are alike stand in order.
    using At = std::pair<std::uint32_t, flow::FactSlot>;
    struct Reached {
        std::size_t depth = 0; ///< moves from where its way begins
        At from;
        std::uint32_t taken = 0;
        bool departure = false; ///< the move led here; else it came after
    };
    /// What lists of a move do first.
    struct Runs {
        ListId by; ///< goes by the fact
        bool sets = false;
    };

    [[nodiscard]] bool stays(const At& at) const {
        const Word* row = explorer_.row(at.first);
        return (explorer_.layout().facts[at.second].get(row) == initial_) == is_initial_;
    }
    [[nodiscard]] Runs runs_of(const Outcome& outcome) const {
        for (const ListId list : explorer_.effects()[outcome.effect].log.lists) {
            if (lists_.reads[list].contains(fact_)) return {list, false};
            if (lists_.sets[list].contains(fact_)) return {{}, true};
        }
        return {};
    }
    void reach(const At& at, const Reached& how) {
        if (at.first >= explorer_.visited()) return; // cut off there
        const auto [known, fresh] = reached_.try_emplace(at, how);
        if (!fresh) {
            if (known->second.depth <= how.depth) return;
            known->second = how;
        }
        waiting_.emplace(how.depth, at);
    }
    [[nodiscard]] Way trace_to(const At& at, std::uint32_t and_then) const {
        Way after{and_then};
        const Reached* how = &reached_.at(at);
        for (; !how->departure; how = &reached_.at(how->from)) after.push_back(how->taken);
        after.push_back(how->taken);
        std::reverse(after.begin(), after.end());
        return explorer_.trace_to(how->from.first, after);
    }

    Explorer& explorer_;
    const ListFacts& lists_;
    FactId fact_;
    flow::FactValue initial_;
    bool is_initial_;
    std::map<At, Reached> reached_;
    using Waiting = std::pair<std::size_t, At>; ///< depth, where
    std::priority_queue<Waiting, std::vector<Waiting>, std::greater<>> waiting_;
};

/// Whether a move takes a fact's value away without being told to.
bool loses(const Explorer& explorer, const ListFacts& lists, flow::FactSlot slot,
           const Outcome& outcome) {
    const FactId fact = explorer.layout().slots.fact(slot);
    const auto initial = flow::fact_value(explorer.plan().facts[fact].initial);
    const auto& field = explorer.layout().facts[slot];
    if (explorer.launches(outcome)) return false; // a new session
    const Word* row = explorer.row(outcome.first);
    if (field.get(row) == initial) return false;
    std::vector<Word> after(row, row + explorer.layout().words);
    write(outcome.writes, after.data());
    if (field.get(after.data()) != initial) return false;
    const MoveLog& log = explorer.effects()[outcome.effect].log;
    return std::none_of(log.lists.begin(), log.lists.end(),
                        [&](ListId list) { return lists.sets[list].contains(fact); });
}

} // namespace

std::vector<ReadFact> lost_facts(Explorer& explorer) {
    const plan::Plan& plan = explorer.plan();
    const ListFacts lists(plan);
    std::vector<ReadFact> lost;
    for (const flow::FactSlot slot : explorer.layout().slots.ids()) {
        const FactId fact = explorer.layout().slots.fact(slot);
        if (plan.facts[fact].lifetime != plan::Lifetime::level) continue;
        if (!lost.empty() && lost.back().fact == fact) continue; // another player's is told
        std::vector<const Outcome*> losses;
        explorer.for_outcomes([&](const Outcome& outcome) {
            if (loses(explorer, lists, slot, outcome)) losses.push_back(&outcome);
        });
        std::sort(losses.begin(), losses.end(), [](const Outcome* one, const Outcome* other) {
            return std::pair(one->first, one->taken) < std::pair(other->first, other->taken);
        });
        std::vector<Departure> departures;
        for (const Outcome* loss : losses) {
            explorer.for_successors(loss->first, [&](std::uint32_t to, const Outcome& outcome) {
                if (outcome.taken == loss->taken)
                    departures.push_back({loss->first, to, loss->taken,
                                          slot_after(explorer, loss->first, slot, outcome)});
            });
        }
        if (auto found = LossSearch(explorer, lists, fact, true).look(departures))
            lost.push_back(std::move(*found));
    }
    return lost;
}

std::optional<ReadFact> left_over_fact(Explorer& explorer, FactId fact,
                                       const std::vector<Departure>& new_games) {
    return LossSearch(explorer, ListFacts(explorer.plan()), fact, false).look(new_games);
}

} // namespace hestrel::explore
