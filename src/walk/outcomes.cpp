// What became of levels and transitions: worked out once a walk is over, from what it recorded.

#include "plan/questions.hpp"
#include "walk/simulation.hpp"

#include <algorithm>
#include <bit>
#include <map>

namespace hestrel::walk {

using plan::Bytes;
using plan::LevelId;
using plan::Micros;

namespace {

/// Most memory in use over any stretch of rows, in constant time after n log n work.
class PeakTable {
public:
    explicit PeakTable(const std::vector<loading::MemoryRow>& rows) : rows_(rows) {
        std::vector<std::size_t> level(rows.size());
        for (std::size_t i = 0; i < rows.size(); ++i) level[i] = i;
        levels_.push_back(std::move(level));
        for (std::size_t width = 1; 2 * width <= rows.size(); width *= 2) {
            const std::vector<std::size_t>& last = levels_.back();
            std::vector<std::size_t> next(rows.size() - 2 * width + 1);
            for (std::size_t i = 0; i < next.size(); ++i)
                next[i] = larger(last[i], last[i + width]);
            levels_.push_back(std::move(next));
        }
    }

    /// The row with most memory in use from `from` to `to`, the first of several; null where there
    /// are none.
    [[nodiscard]] const loading::MemoryRow* highest(Micros from, Micros to) const {
        const auto after = [&](Micros at) {
            return static_cast<std::size_t>(
                std::upper_bound(rows_.begin(), rows_.end(), at,
                                 [](Micros time, const auto& row) { return time < row.at; }) -
                rows_.begin());
        };
        const std::size_t behind = after(to);
        std::size_t first = after(from);
        if (first > 0) --first; // the row that holds at `from`
        if (first >= behind) return nullptr;
        const auto level = static_cast<std::size_t>(std::bit_width(behind - first) - 1);
        const std::size_t width = std::size_t{1} << level;
        return &rows_[larger(levels_[level][first], levels_[level][behind - width])];
    }

private:
    [[nodiscard]] std::size_t larger(std::size_t one, std::size_t other) const {
        return rows_[other].total > rows_[one].total ? other : one;
    }
    const std::vector<loading::MemoryRow>& rows_;
    std::vector<std::vector<std::size_t>> levels_;
};

/// How long players had stalled by a moment, in all.
class StallTable {
public:
    explicit StallTable(const std::vector<Spell>& spells) {
        std::map<std::uint32_t, std::vector<Step>> by_player;
        for (const Spell& spell : spells) {
            if (spell.doing != Doing::stalled) continue;
            std::vector<Step>& steps = by_player[spell.player];
            const Micros before = steps.empty() ? Micros{} : steps.back().total;
            steps.push_back({spell.from, spell.to, before + (spell.to - spell.from)});
        }
        for (auto& [player, steps] : by_player) players_.push_back(std::move(steps));
    }
    [[nodiscard]] Micros between(Micros from, Micros to) const {
        Micros sum;
        for (const auto& steps : players_) sum += until(steps, to) - until(steps, from);
        return sum;
    }

private:
    struct Step {
        Micros from, to, total;
    };
    static Micros until(const std::vector<Step>& steps, Micros at) {
        const auto next =
            std::upper_bound(steps.begin(), steps.end(), at,
                             [](Micros time, const Step& step) { return time < step.from; });
        if (next == steps.begin()) return {};
        const Step& last = *std::prev(next);
        return last.total - (last.to - std::min(at, last.to));
    }
    std::vector<std::vector<Step>> players_;
};

/// Everything that happened to each level, in order.
struct LevelHistory {
    std::vector<std::size_t> events; ///< indices in the record
};

/// Works out one record's outcomes.
class Outcomes {
public:
    Outcomes(const plan::Plan& plan, Record& record)
        : plan_(plan), record_(record), peaks_(record.memory), stalls_(record.spells) {
        for (std::size_t i = 0; i < record.events.size(); ++i) {
            switch (record.events[i].kind) {
            case EventKind::level_ready:
            case EventKind::level_shown:
            case EventKind::level_hidden:
            case EventKind::level_unloaded: history_[record.events[i].subject].events.push_back(i);
            default: break;
            }
            if (record.events[i].kind == EventKind::piece_released) released_.push_back(i);
            if (record.events[i].kind == EventKind::switch_began)
                switches_.push_back({record.events[i].at, record.end});
            if (record.events[i].kind == EventKind::switch_ended)
                switches_.back().to = record.events[i].at;
            if (record.events[i].kind == EventKind::through_gate) gates_.push_back(i);
        }
        for (std::size_t i = 0; i < record.needed.size(); ++i)
            needed_[record.needed[i].level.value].push_back(i);
        for (std::size_t i = 0; i < record.holdings.size(); ++i) {
            if (record.holdings[i].holder == loading::Holder::piece ||
                record.holdings[i].holder == loading::Holder::staging)
                holdings_[record.holdings[i].index].push_back(i);
        }
        for (const loading::LoadRecord& load : record.loads)
            loaded_by_[load.transition].push_back(load.piece.value);
    }

    void add() {
        for (const Transition& transition : record_.transitions) add(transition);
    }

private:
    void add(const Transition& transition) {
        TransitionOutcome outcome;
        outcome.transition = transition.number;
        outcome.settled =
            transition.ended.value_or(transition.abandoned ? transition.fired : record_.end);
        for (const Transition::Called& call : transition.called) {
            const LevelOutcome level = outcome_of(transition, call);
            const auto& there = call.to_show ? level.shown : level.ready;
            outcome.settled = std::max(outcome.settled, there.value_or(given_up(call)));
            record_.outcomes.push_back(level);
        }
        outcome.settled = std::max(std::min(outcome.settled, record_.end), transition.fired);
        outcome.stall = stalls_.between(transition.fired, outcome.settled);
        if (const auto* row = peaks_.highest(transition.fired, outcome.settled)) {
            outcome.peak = row->total;
            outcome.peak_at = row->at;
        }
        outcome.overlap = overlap(transition, outcome.settled);
        record_.transition_outcomes.push_back(outcome);
    }

    /// Events of a level from a call on, up to its being unloaded.
    template <class Each>
    void follow(const Transition::Called& call, Each each) const {
        const auto found = history_.find(call.level.value);
        if (found == history_.end()) return;
        const auto& events = found->second.events;
        for (auto at = std::lower_bound(events.begin(), events.end(), call.event);
             at != events.end(); ++at) {
            each(record_.events[*at]);
            if (record_.events[*at].kind == EventKind::level_unloaded) return;
        }
    }

    /// Whether a level was shown once a moment had run.
    [[nodiscard]] bool was_shown(LevelId level, Micros moment) const {
        bool shown = false;
        const auto found = history_.find(level.value);
        if (found == history_.end()) return shown;
        for (const std::size_t index : found->second.events) {
            const Event& event = record_.events[index];
            if (event.at > moment) break;
            if (event.kind == EventKind::level_shown) shown = true;
            if (event.kind == EventKind::level_hidden) shown = false;
        }
        return shown;
    }

    [[nodiscard]] Micros given_up(const Transition::Called& call) const {
        Micros at = record_.end;
        follow(call, [&](const Event& event) {
            if (event.kind == EventKind::level_unloaded) at = event.at;
        });
        return at;
    }

    [[nodiscard]] LevelOutcome outcome_of(const Transition& transition,
                                          const Transition::Called& call) const {
        LevelOutcome outcome;
        outcome.transition = transition.number;
        outcome.level = call.level;
        outcome.asked = call.at;
        Micros until = Micros::never();
        follow(call, [&](const Event& event) {
            if (event.kind == EventKind::level_ready && !outcome.ready) outcome.ready = event.at;
            if (event.kind == EventKind::level_shown && !outcome.shown) outcome.shown = event.at;
            if (event.kind == EventKind::level_unloaded) until = event.at;
        });
        const auto found = needed_.find(call.level.value);
        if (found == needed_.end()) return outcome;
        for (const std::size_t index : found->second) {
            const Needed& needed = record_.needed[index];
            const bool already = needed.from <= transition.fired && transition.fired < needed.to;
            const Micros at = already ? transition.fired : needed.from;
            if (at < transition.fired || at >= until || (outcome.needed && *outcome.needed <= at))
                continue;
            if (at < call.at && was_shown(call.level, at))
                continue; // by another load, let go since
            outcome.needed = at;
            outcome.lead = already ? 0 : needed.metres - transition.metres[needed.player];
        }
        if (outcome.needed && outcome.shown) outcome.slack = *outcome.needed - *outcome.shown;
        outcome.held =
            outcome.slack && outcome.slack->count >= 0 && (switched(outcome) || gated(outcome));
        return outcome;
    }

    /// Whether it was shown during a switch, which holds everybody until then.
    [[nodiscard]] bool switched(const LevelOutcome& outcome) const {
        const auto next =
            std::upper_bound(switches_.begin(), switches_.end(), *outcome.shown,
                             [](Micros at, const Stretch& each) { return at < each.from; });
        return next != switches_.begin() && *outcome.shown <= std::prev(next)->to;
    }
    /// Whether players waited at a gate for it on their way to it.
    [[nodiscard]] bool gated(const LevelOutcome& outcome) const {
        return std::any_of(gates_.begin(), gates_.end(), [&](std::size_t index) {
            const Event& event = record_.events[index];
            if (event.at < *outcome.shown || event.at > *outcome.needed) return false;
            return plan::needs(plan_.gates[plan::GateId{event.detail}], outcome.level);
        });
    }

    /// The most that what it loaded and what was released meanwhile held together, while both held
    /// something.
    [[nodiscard]] Bytes overlap(const Transition& transition, Micros settled) const {
        const auto loaded = loaded_by_.find(transition.number);
        if (loaded == loaded_by_.end()) return {};
        struct Change {
            Micros at;
            Bytes size; ///< negative where it is given back
            bool fresh = false;
        };
        std::vector<Change> changes;
        const auto add_holdings = [&](std::uint32_t piece, bool fresh) {
            const auto found = holdings_.find(piece);
            if (found == holdings_.end()) return;
            for (const std::size_t index : found->second) {
                const loading::Holding& holding = record_.holdings[index];
                const bool meant =
                    fresh ? holding.from >= transition.fired : holding.from < transition.fired;
                if (!meant || holding.to < transition.fired || holding.from > settled) continue;
                changes.push_back({holding.from, holding.size, fresh});
                changes.push_back({holding.to, Bytes{} - holding.size, fresh});
            }
        };
        for (const std::uint32_t piece : loaded->second) add_holdings(piece, true);
        const auto first = std::lower_bound(
            released_.begin(), released_.end(), transition.fired,
            [&](std::size_t event, Micros at) { return record_.events[event].at < at; });
        for (auto at = first; at != released_.end() && record_.events[*at].at <= settled; ++at)
            add_holdings(record_.events[*at].subject, false);
        std::sort(changes.begin(), changes.end(), [](const Change& one, const Change& other) {
            return std::pair(one.at, one.size) < std::pair(other.at, other.size);
        });
        Bytes most, old_held, new_held;
        for (const Change& change : changes) {
            (change.fresh ? new_held : old_held) += change.size;
            const bool both = old_held.count > 0 && new_held.count > 0;
            if (both) most = std::max(most, old_held + new_held);
        }
        return most;
    }

    const plan::Plan& plan_;
    Record& record_;
    PeakTable peaks_;
    StallTable stalls_;
    std::map<std::uint32_t, LevelHistory> history_;                 ///< by level
    std::map<std::uint32_t, std::vector<std::size_t>> needed_;      ///< by level
    std::map<std::uint32_t, std::vector<std::size_t>> holdings_;    ///< by piece
    std::map<std::uint32_t, std::vector<std::uint32_t>> loaded_by_; ///< pieces, by transition
    struct Stretch {
        Micros from, to;
    };
    std::vector<Stretch> switches_;     ///< from beginning to end, in order
    std::vector<std::size_t> gates_;    ///< events: a player who waited goes through
    std::vector<std::size_t> released_; ///< events
};

} // namespace

void add_outcomes(const plan::Plan& plan, Record& record) {
    Outcomes(plan, record).add();
}

} // namespace hestrel::walk
