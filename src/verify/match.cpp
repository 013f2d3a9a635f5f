// Planned and measured events of one kind and one level are laid beside each other like two texts
// that differ in few letters: each is paired with one of the other side, in order, or with none, so
// that all differences together are least (an alignment by dynamic programming, as S. B. Needleman
// and C. D. Wunsch did it for proteins, 1970). One with no partner costs as much as a pair that is
// a minute apart, so what comes late is late and not missing.

#include "verify/match.hpp"

#include "plan/level_tree.hpp"

#include <algorithm>
#include <cstdlib>
#include <map>
#include <set>
#include <utility>

namespace hestrel::verify {

using plan::LevelId;
using plan::Micros;
using walk::EventKind;

namespace {

constexpr std::int64_t alone_costs = 60'000'000; // µs
constexpr std::size_t most_cells = 4'000'000;    ///< of a table, 8 bytes each

bool is_of_pieces(EventKind kind) {
    return comes(kind) || goes(kind);
}

/// That ends a visit of a level or kit.
bool ends_visit(EventKind kind) {
    return kind == EventKind::level_unloaded || kind == EventKind::piece_given_up ||
           kind == EventKind::piece_released;
}

/// One event of either side.
struct Happened {
    Micros at;
    EventKind kind = EventKind::ended;
    std::uint32_t subject = 0;
    std::size_t visit = 0;
    std::uint32_t transition = 0;
    std::size_t line = 0; ///< of the log; of the plan, which event
    bool adopted = false;
};

using Side = std::vector<Happened>;
/// Of one kind and subject.
using Series = std::map<std::pair<std::uint32_t, EventKind>, std::vector<std::size_t>>;

/// Counts visits. Being ready and shown without being asked for is one, too.
class Visits {
public:
    std::size_t of(EventKind kind, std::uint32_t subject) {
        Count& count = counts_[subject];
        // What is released was unloaded before, and stays of the same visit.
        if (count.over && !ends_visit(kind)) {
            ++count.number;
            count.over = false;
        }
        if (ends_visit(kind)) count.over = true;
        return count.number;
    }

private:
    struct Count {
        std::size_t number = 0;
        bool over = false;
    };
    std::map<std::uint32_t, Count> counts_;
};

Series series_of(const Side& side) {
    Series series;
    for (std::size_t i = 0; i < side.size(); ++i)
        series[{side[i].subject, side[i].kind}].push_back(i);
    return series;
}

/// Pairs of indices of two sides; nothing stands for none.
struct Pair {
    std::optional<std::size_t> planned, measured;
};

class Alignment {
public:
    Alignment(const Side& planned, const Side& measured) : planned_(planned), measured_(measured) {}

    std::vector<Pair> align(const std::vector<std::size_t>& planned,
                            const std::vector<std::size_t>& measured) const {
        std::vector<Pair> pairs;
        // What agrees at both ends needs no table.
        std::size_t first = 0;
        while (first < planned.size() && first < measured.size() &&
               cost(planned[first], measured[first]) == 0) {
            pairs.push_back({planned[first], measured[first]});
            ++first;
        }
        align_rest({planned.begin() + static_cast<std::ptrdiff_t>(first), planned.end()},
                   {measured.begin() + static_cast<std::ptrdiff_t>(first), measured.end()}, pairs);
        return pairs;
    }

private:
    [[nodiscard]] std::int64_t cost(std::size_t planned, std::size_t measured) const {
        return std::abs(planned_[planned].at.count - measured_[measured].at.count);
    }
    void align_rest(const std::vector<std::size_t>& planned,
                    const std::vector<std::size_t>& measured, std::vector<Pair>& pairs) const {
        const std::size_t rows = planned.size();
        const std::size_t columns = measured.size();
        if (rows * columns > most_cells) return align_in_passing(planned, measured, pairs);
        std::vector<std::int64_t> least((rows + 1) * (columns + 1));
        const auto at = [&](std::size_t row, std::size_t column) -> std::int64_t& {
            return least[row * (columns + 1) + column];
        };
        // From the ends, so that the way through the table goes forwards.
        for (std::size_t row = rows + 1; row-- > 0;) {
            for (std::size_t column = columns + 1; column-- > 0;) {
                if (row == rows || column == columns) {
                    at(row, column) =
                        alone_costs * static_cast<std::int64_t>(rows - row + columns - column);
                    continue;
                }
                const std::int64_t paired =
                    cost(planned[row], measured[column]) + at(row + 1, column + 1);
                at(row, column) = std::min(
                    {paired, alone_costs + at(row + 1, column), alone_costs + at(row, column + 1)});
            }
        }
        std::size_t row = 0;
        std::size_t column = 0;
        while (row < rows || column < columns) {
            const bool both = row < rows && column < columns;
            if (both &&
                at(row, column) == cost(planned[row], measured[column]) + at(row + 1, column + 1)) {
                pairs.push_back({planned[row++], measured[column++]});
            } else if (row < rows && at(row, column) == alone_costs + at(row + 1, column)) {
                pairs.push_back({planned[row++], std::nullopt});
            } else {
                pairs.push_back({std::nullopt, measured[column++]});
            }
        }
    }

    /// Where there are too many for a table: each is paired with the next that is not far off.
    void align_in_passing(const std::vector<std::size_t>& planned,
                          const std::vector<std::size_t>& measured,
                          std::vector<Pair>& pairs) const {
        std::size_t row = 0;
        std::size_t column = 0;
        while (row < planned.size() || column < measured.size()) {
            const bool both = row < planned.size() && column < measured.size();
            if (both && cost(planned[row], measured[column]) <= alone_costs) {
                pairs.push_back({planned[row++], measured[column++]});
            } else if (column == measured.size() ||
                       (both && planned_[planned[row]].at < measured_[measured[column]].at)) {
                pairs.push_back({planned[row++], std::nullopt});
            } else {
                pairs.push_back({std::nullopt, measured[column++]});
            }
        }
    }

    const Side& planned_;
    const Side& measured_;
};

class Matching {
public:
    Matching(const plan::Plan& plan, const Play& play, const Session& session,
             const walk::Replay& replay, const Tolerance& tolerance)
        : plan_(plan), play_(play), session_(session), replay_(replay), tolerance_(tolerance),
          tree_(plan::level_tree(plan.levels)), leaves_near_out_(leaves_near_out(plan, play)),
          boot_(replay.boot_end) {}

    std::vector<Outcome> match() {
        read_plan();
        read_log();
        const Series planned = series_of(planned_);
        const Series measured = series_of(measured_);
        const Alignment alignment(planned_, measured_);
        const std::vector<std::size_t> none;
        const auto find = [&](const Series& in, const auto& key) -> const auto& {
            const auto found = in.find(key);
            return found == in.end() ? none : found->second;
        };
        for (const auto& [key, of_plan] : planned)
            add(alignment.align(of_plan, find(measured, key)));
        for (const auto& [key, of_log] : measured) {
            if (!planned.contains(key)) add(alignment.align(none, of_log));
        }
        mark_arrivals();
        std::stable_sort(
            outcomes_.begin(), outcomes_.end(),
            [](const auto& one, const auto& other) { return when(one) < when(other); });
        return std::move(outcomes_);
    }

private:
    static Micros when(const Outcome& outcome) {
        return outcome.measured ? *outcome.measured : *outcome.planned;
    }
    /// Only what the log tells of at all can be missing in it.
    void read_plan() {
        const walk::Record& record = replay_.record;
        find_calls();
        find_adopted();
        Visits visits;
        for (std::size_t i = 0; i < record.events.size(); ++i) {
            const walk::Event& event = record.events[i];
            if (!is_of_pieces(event.kind)) continue;
            const std::size_t visit = visits.of(event.kind, event.subject);
            if (!play_.kinds.contains(event.kind) || is_left_out(event.subject)) continue;
            planned_.push_back({event.at - boot_, event.kind, event.subject, visit,
                                called_by(event.subject, i), i,
                                is_adopted(event.subject, event.at)});
        }
    }
    void read_log() {
        Visits visits;
        for (const Said& said : session_.said) {
            if (!is_of_pieces(said.kind)) continue;
            const std::size_t visit = visits.of(said.kind, said.subject);
            if (is_left_out(said.subject)) continue;
            measured_.push_back({said.at, said.kind, said.subject, visit, 0, said.line,
                                 is_adopted(said.subject, said.at + boot_)});
        }
    }

    /// Which transition asked for a level last, by the events that were before.
    void find_calls() {
        calls_.resize(plan_.levels.size());
        for (const walk::Transition& transition : replay_.record.transitions) {
            for (const auto& call : transition.called)
                calls_[call.level.value].emplace_back(call.event, transition.number);
        }
    }
    [[nodiscard]] std::uint32_t called_by(std::uint32_t piece, std::size_t event) const {
        if (piece >= calls_.size()) return 0;
        std::uint32_t by = 0;
        for (const auto& [at, number] : calls_[piece]) {
            if (at <= event) by = number;
        }
        return by;
    }
    void find_adopted() {
        for (const walk::Cue& cue : session_.script.cues) {
            if (cue.what == walk::Cue::What::brought || cue.what == walk::Cue::What::let_go)
                adopted_[cue.subject].push_back(cue.at + boot_);
        }
    }
    /// From when the log brought it or let it go until the plan asks for it again.
    [[nodiscard]] bool is_adopted(std::uint32_t piece, Micros at) const {
        const auto found = adopted_.find(piece);
        if (found == adopted_.end()) return false;
        return std::any_of(found->second.begin(), found->second.end(), [&](Micros since) {
            if (at < since) return false;
            return std::none_of(replay_.record.transitions.begin(),
                                replay_.record.transitions.end(),
                                [&](const walk::Transition& each) {
                                    return std::any_of(each.called.begin(), each.called.end(),
                                                       [&](const auto& call) {
                                                           return call.level.value == piece &&
                                                                  call.at > since && call.at <= at;
                                                       });
                                });
        });
    }

    /// Levels that stream by distance, where the log does not tell which came near; and then kits,
    /// which may come with them.
    [[nodiscard]] bool is_left_out(std::uint32_t piece) const {
        if (!leaves_near_out_) return false;
        if (piece >= plan_.levels.size()) return true;
        for (LevelId level{piece}; level; level = tree_[level].parent) {
            if (plan_.levels[level].near) return true;
        }
        return false;
    }

    /// Levels are there for players once they are shown; where that is not planned, once ready.
    void mark_arrivals() {
        std::set<std::pair<std::uint32_t, std::size_t>> shown; // visits
        for (const Outcome& each : outcomes_) {
            if (each.kind == EventKind::level_shown && each.planned)
                shown.emplace(each.subject, each.visit);
        }
        for (Outcome& each : outcomes_) {
            each.arrival = each.kind == EventKind::level_shown ||
                           (each.kind == EventKind::level_ready &&
                            !shown.contains({each.subject, each.visit}));
        }
    }

    void add(const std::vector<Pair>& pairs) {
        for (const Pair& pair : pairs) add(pair);
    }
    void add(const Pair& pair) {
        Outcome outcome;
        const Happened& either = pair.planned ? planned_[*pair.planned] : measured_[*pair.measured];
        outcome.kind = either.kind;
        outcome.subject = either.subject;
        outcome.visit = either.visit;
        outcome.transition = either.transition;
        outcome.adopted = either.adopted;
        outcome.since = since(outcome.transition);
        if (pair.planned) {
            outcome.planned = planned_[*pair.planned].at;
            outcome.order = planned_[*pair.planned].line;
        }
        if (pair.measured) {
            outcome.measured = measured_[*pair.measured].at;
            outcome.line = measured_[*pair.measured].line;
        }
        if (!pair.measured) {
            // A log that ends before says nothing of it.
            const Micros takes = *outcome.planned - outcome.since;
            const Micros late = session_.whole ? Micros{} : tolerance_.of(takes);
            if (*outcome.planned + late > session_.end) return;
            if (session_.launched && *outcome.planned == session_.end) return;
            outcome.what = Outcome::What::missing;
        } else if (!pair.planned) {
            outcome.what = Outcome::What::unplanned;
        } else {
            judge(outcome);
        }
        outcomes_.push_back(outcome);
    }
    /// The boot is compared from its own beginning; where the log does not tell when that was, not
    /// at all.
    void judge(Outcome& outcome) const {
        outcome.off = *outcome.measured - *outcome.planned;
        Micros takes = *outcome.planned - outcome.since;
        if (*outcome.planned <= Micros{} && outcome.transition == 0) {
            const Micros boot = replay_.record.boot.value_or(Micros{});
            takes = *outcome.planned + boot;
            if (session_.boot_start)
                outcome.off += (session_.boot_end - *session_.boot_start) - boot;
            else
                outcome.off = {};
        }
        if (std::abs(outcome.off.count) <= tolerance_.of(takes).count) return;
        outcome.what = outcome.off.count > 0 ? Outcome::What::later : Outcome::What::earlier;
    }
    /// When a transition began, since the end of the boot.
    [[nodiscard]] Micros since(std::uint32_t transition) const {
        if (transition == 0) return Micros{} - replay_.record.boot.value_or(Micros{});
        return replay_.record.transitions[transition - 1].fired - boot_;
    }

    const plan::Plan& plan_;
    const Play& play_;
    const Session& session_;
    const walk::Replay& replay_;
    const Tolerance& tolerance_;
    plan::LevelTree tree_;
    bool leaves_near_out_;
    Micros boot_;
    std::vector<std::vector<std::pair<std::size_t, std::uint32_t>>> calls_; ///< by level
    std::map<std::uint32_t, std::vector<Micros>> adopted_; ///< by piece: since when
    Side planned_, measured_;
    std::vector<Outcome> outcomes_;
};

} // namespace

std::vector<Outcome> match(const plan::Plan& plan, const Play& play, const Session& session,
                           const walk::Replay& replay, const Tolerance& tolerance) {
    return Matching(plan, play, session, replay, tolerance).match();
}

} // namespace hestrel::verify
