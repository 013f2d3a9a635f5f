// What became of levels and transitions: worked out once a walk is over, from what it recorded.

#include "plan/questions.hpp"
#include "walk/simulation.hpp"

#include <algorithm>
#include <bit>
#include <limits>
#include <map>
#include <tuple>

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

/// When what happened to a level: indices of events in the record, in order.
struct LevelHistory {
    std::vector<std::size_t> ready, shown, hidden, unloaded;
};

/// Works out one record's outcomes.
class Outcomes {
public:
    Outcomes(const plan::Plan& plan, Record& record)
        : plan_(plan), record_(record), peaks_(record.memory), stalls_(record.spells) {
        for (std::size_t i = 0; i < record.events.size(); ++i) {
            const Event& event = record.events[i];
            switch (event.kind) {
            case EventKind::level_ready: history_[event.subject].ready.push_back(i); break;
            case EventKind::level_shown: history_[event.subject].shown.push_back(i); break;
            case EventKind::level_hidden: history_[event.subject].hidden.push_back(i); break;
            case EventKind::level_unloaded: history_[event.subject].unloaded.push_back(i); break;
            case EventKind::piece_released: released_.push_back(i); break;
            case EventKind::switch_began: switches_.push_back({event.at, record.end}); break;
            case EventKind::switch_ended: switches_.back().to = event.at; break;
            case EventKind::launched:
                if (!switches_.empty())
                    switches_.back().to = std::min(switches_.back().to, event.at);
                break;
            case EventKind::through_gate: gates_.push_back(i); break;
            default: break;
            }
        }
        for (std::size_t i = 0; i < record.needed.size(); ++i) {
            const Needed& needed = record.needed[i];
            needed_[{needed.level.value, needed.player, needed.stood}].push_back(i);
        }
        for (std::size_t i = 0; i < record.holdings.size(); ++i) {
            if (record.holdings[i].holder == loading::Holder::piece)
                held_[record.holdings[i].index].push_back(i);
            if (record.holdings[i].holder == loading::Holder::staging)
                staged_[record.holdings[i].index].push_back(i);
        }
        // What one piece holds in one way, and what one player needs one level for, comes one after
        // another.
        const auto in_order = [](auto& lists, const auto& all) {
            for (auto& [key, list] : lists) {
                std::sort(list.begin(), list.end(), [&](std::size_t one, std::size_t other) {
                    return all[one].from < all[other].from;
                });
            }
        };
        in_order(held_, record.holdings);
        in_order(staged_, record.holdings);
        in_order(needed_, record.needed);
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
        outcome.settled = transition.ended.value_or(
            transition.abandoned ? transition.fired : end_of_session(transition.fired));
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

    /// When the game that was played at a moment was launched again, or the walk ended.
    [[nodiscard]] Micros end_of_session(Micros at) const {
        const auto next = std::lower_bound(record_.launches.begin(), record_.launches.end(), at);
        return next == record_.launches.end() ? record_.end : *next;
    }
    /// The first of such events that is not before a call, and when; none where there is none.
    struct Next {
        std::size_t event = std::numeric_limits<std::size_t>::max();
        std::optional<Micros> at;
    };
    [[nodiscard]] Next next(const std::vector<std::size_t>& events,
                            const Transition::Called& call) const {
        const auto found = std::lower_bound(events.begin(), events.end(), call.event);
        if (found == events.end()) return {};
        return {*found, record_.events[*found].at};
    }
    [[nodiscard]] const LevelHistory& history(LevelId level) const {
        static const LevelHistory nothing;
        const auto found = history_.find(level.value);
        return found == history_.end() ? nothing : found->second;
    }

    /// Whether a level was shown once a moment had run.
    [[nodiscard]] bool was_shown(LevelId level, Micros moment) const {
        const auto last = [&](const std::vector<std::size_t>& events) {
            return std::upper_bound(
                events.begin(), events.end(), moment,
                [&](Micros at, std::size_t event) { return at < record_.events[event].at; });
        };
        const LevelHistory& of_level = history(level);
        const auto shown = last(of_level.shown);
        const auto hidden = last(of_level.hidden);
        if (shown == of_level.shown.begin()) return false;
        return hidden == of_level.hidden.begin() || *std::prev(hidden) < *std::prev(shown);
    }

    [[nodiscard]] Micros given_up(const Transition::Called& call) const {
        return next(history(call.level).unloaded, call).at.value_or(record_.end);
    }

    [[nodiscard]] LevelOutcome outcome_of(const Transition& transition,
                                          const Transition::Called& call) const {
        LevelOutcome outcome;
        outcome.transition = transition.number;
        outcome.level = call.level;
        outcome.asked = call.at;
        const LevelHistory& of_level = history(call.level);
        const Next unloaded = next(of_level.unloaded, call);
        const Micros until = unloaded.at.value_or(Micros::never());
        const auto before_that = [&](const std::vector<std::size_t>& events) {
            const Next found = next(events, call);
            return found.event < unloaded.event ? found.at : std::nullopt;
        };
        outcome.ready = before_that(of_level.ready);
        outcome.shown = before_that(of_level.shown);
        for (auto of_player = needed_.lower_bound({call.level.value, 0, false});
             of_player != needed_.end() && std::get<0>(of_player->first) == call.level.value;
             ++of_player)
            look_for_need(transition, call, until, of_player->second, outcome);
        if (outcome.needed && outcome.shown) outcome.slack = *outcome.needed - *outcome.shown;
        outcome.held =
            outcome.slack && outcome.slack->count >= 0 && (switched(outcome) || gated(outcome));
        return outcome;
    }

    /// The first time at which a player needs the level, where that is before any known.
    void look_for_need(const Transition& transition, const Transition::Called& call, Micros until,
                       const std::vector<std::size_t>& needs, LevelOutcome& outcome) const {
        auto each = std::partition_point(needs.begin(), needs.end(), [&](std::size_t index) {
            const Needed& needed = record_.needed[index];
            return needed.from < transition.fired && needed.to <= transition.fired;
        });
        for (; each != needs.end(); ++each) {
            const Needed& needed = record_.needed[*each];
            const bool already = needed.from <= transition.fired && transition.fired < needed.to;
            const Micros at = already ? transition.fired : needed.from;
            if (at >= until || (outcome.needed && *outcome.needed <= at)) return;
            if (at < transition.fired) continue;
            if (at < call.at && was_shown(call.level, at))
                continue; // by another load, let go since
            outcome.needed = at;
            outcome.lead = already ? 0 : needed.metres - transition.metres[needed.player];
            return;
        }
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
        const auto before = [&](Micros moment) {
            return [this, moment](std::size_t event) { return record_.events[event].at < moment; };
        };
        const auto first =
            std::partition_point(gates_.begin(), gates_.end(), before(*outcome.shown));
        const auto last =
            std::partition_point(first, gates_.end(), before(*outcome.needed + Micros{1}));
        return std::any_of(first, last, [&](std::size_t event) {
            return plan::needs(plan_, plan_.gates[plan::GateId{record_.events[event].detail}],
                               outcome.level);
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
            for (const auto* lists : {&held_, &staged_}) {
                const auto found = lists->find(piece);
                if (found == lists->end()) continue;
                auto each = std::partition_point(
                    found->second.begin(), found->second.end(), [&](std::size_t index) {
                        return record_.holdings[index].to < transition.fired;
                    });
                for (; each != found->second.end(); ++each) {
                    const loading::Holding& holding = record_.holdings[*each];
                    if (holding.from > settled) break;
                    if (fresh != (holding.from >= transition.fired)) continue;
                    changes.push_back({holding.from, holding.size, fresh});
                    changes.push_back({holding.to, Bytes{} - holding.size, fresh});
                }
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
    std::map<std::uint32_t, LevelHistory> history_;            ///< by level
    std::map<std::uint32_t, std::vector<std::size_t>> held_;   ///< by piece, in order
    std::map<std::uint32_t, std::vector<std::size_t>> staged_; ///< the same
    /// By level, player, and whether it stands in it; in order.
    std::map<std::tuple<std::uint32_t, std::uint32_t, bool>, std::vector<std::size_t>> needed_;
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
