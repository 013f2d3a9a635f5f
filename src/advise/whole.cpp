// What is about the plan as a whole: what is better kept, or not, or let go sooner.

#include "advise/advice.hpp"
#include "loading/catalogue.hpp"
#include "plan/jobs.hpp"
#include "plan/lists.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <map>
#include <set>

namespace hestrel::advise {

using plan::Bytes;
using plan::LevelId;
using plan::ListId;
using plan::Micros;
using plan::Plan;

namespace {

constexpr std::size_t most_tried = 24; ///< of one kind
constexpr std::size_t most_told = 5;
const Micros worth_waiting = plan::milliseconds(100);
const Bytes worth_holding = plan::mebibytes(1);

Micros waiting_in(const walk::Record& record) {
    Micros sum = record.boot.value_or(record.end);
    sum += record.shares.stalled + record.shares.veiled;
    return sum + walk::gap_time(record);
}

Micros slow_in(const walk::Record& record) {
    Micros sum;
    for (const walk::SlowFrames& slow : record.slow_frames) sum += slow.to - slow.from;
    return sum;
}

Micros saved_by(const Advice& advice) {
    Micros saved;
    for (const Effect& effect : advice.effects)
        saved += effect.waiting_before - effect.waiting_after;
    return saved;
}
/// On the device where most is freed.
Bytes freed_by(const Advice& advice) {
    Bytes freed;
    for (const Effect& effect : advice.effects)
        freed = std::max(freed, effect.peak_before - effect.peak_after);
    return freed;
}
/// How much less long frames are slow, on all devices.
Micros quickened_by(const Advice& advice) {
    Micros less;
    for (const Effect& effect : advice.effects) less += effect.slow_before - effect.slow_after;
    return less;
}
bool costs_waiting(const Advice& advice) {
    return std::any_of(advice.effects.begin(), advice.effects.end(), [](const Effect& effect) {
        return effect.waiting_after > effect.waiting_before + worth_waiting;
    });
}

/// Levels that something else than places speaks of: rules count what they provide, conditions ask
/// for them.
std::set<LevelId> spoken_of(const Plan& plan) {
    std::set<LevelId> levels;
    for (const LevelId level : plan.levels.ids()) {
        for (const plan::Rule& rule : plan.rules) {
            if (rule.of && plan::contains(plan.levels[level].provides, rule.of))
                levels.insert(level);
        }
    }
    for (const plan::Condition& condition : plan.conditions) {
        for (const plan::Term& term : condition.terms) {
            for (const LevelId level : plan::levels_of(plan, term)) levels.insert(level);
        }
    }
    return levels;
}

class WholePlan {
public:
    WholePlan(const Judge& judge, const Options& options)
        : judge_(judge), plan_(judge.study().plan), records_(judge.records()), options_(options) {}

    std::vector<Advice> all() {
        std::vector<Advice> all;
        const auto append = [&](std::vector<Advice> more) {
            for (Advice& each : more) all.push_back(std::move(each));
        };
        append(free_first());
        append(unload_sooner());
        append(shorter_frames());
        append(let_go());
        append(persist());
        return all;
    }

private:
    /// Those that are worth it by what walking shows, harm nothing, and of which one may be told
    /// for each level (`once`); the best first.
    template <class IsWorth, class Worth>
    std::vector<Advice> best(std::vector<Advice> candidates, IsWorth is_worth, Worth worth,
                             bool once = false) const {
        if (candidates.size() > most_tried) candidates.resize(most_tried);
        if (options_.begins) options_.begins("changes tried", candidates.size());
        plan::in_parallel(candidates.size(), options_.jobs, [&](std::size_t i) {
            const std::vector<walk::Record> again = judge_.walked(candidates[i].edits);
            candidates[i].effects = effects_of(records_, again);
            candidates[i].harms = judge_.harms_in(again);
            if (options_.one_more) options_.one_more();
        });
        std::erase_if(candidates,
                      [&](const Advice& each) { return !each.harms.empty() || !is_worth(each); });
        std::stable_sort(
            candidates.begin(), candidates.end(),
            [&](const Advice& one, const Advice& other) { return worth(one) > worth(other); });
        // What they do to the plan is looked at only of those that can be told.
        std::vector<Advice> told;
        std::set<LevelId> levels;
        for (auto next = candidates.begin(); next != candidates.end() && told.size() < most_told;) {
            const std::size_t count = std::min<std::size_t>(
                most_told - told.size(), static_cast<std::size_t>(candidates.end() - next));
            plan::in_parallel(count, options_.jobs, [&](std::size_t i) {
                Advice& each = next[static_cast<std::ptrdiff_t>(i)];
                each.harms = judge_.harms_to_plan(each.edits);
            });
            for (const auto end = next + static_cast<std::ptrdiff_t>(count); next != end; ++next) {
                if (!next->harms.empty()) continue;
                if (!once || levels.insert(next->level).second) told.push_back(std::move(*next));
            }
        }
        return told;
    }

    /// Switches under which memory ran over, or short.
    std::vector<Advice> free_first() const {
        std::vector<Advice> candidates;
        for (const ListId list : plan_.lists.ids()) {
            const plan::StepList& steps = plan_.lists[list];
            for (std::size_t i = 0; i < steps.steps.size(); ++i) {
                const auto* change = std::get_if<plan::SwitchStep>(&steps.steps[i].what);
                if (change == nullptr || change->order != plan::SwitchOrder::load_first) continue;
                if (!runs_over(plan::top_list(plan_, list))) continue;
                Advice advice;
                advice.kind = Kind::free_first;
                advice.list = list;
                advice.edits = {SetSwitchOrder{list, i, plan::SwitchOrder::free_first}};
                candidates.push_back(std::move(advice));
            }
        }
        return best(
            std::move(candidates),
            [](const Advice& each) { return freed_by(each) >= worth_holding; }, freed_by);
    }
    /// Whether memory is over a budget while a list's transition goes on, on any route.
    [[nodiscard]] bool runs_over(ListId list) const {
        for (const walk::Record& record : records_) {
            for (const walk::Transition& transition : record.transitions) {
                if (transition.list != list) continue;
                const Micros settled = record.transition_outcomes[transition.number - 1].settled;
                for (const loading::Overrun& over : record.overruns) {
                    if (over.from <= settled && over.to >= transition.fired) return true;
                }
            }
        }
        return false;
    }

    /// Lists that are run after the last need of a level, and before it goes by itself.
    std::vector<Advice> unload_sooner() const {
        struct Chance {
            double held = 0; ///< MiB times seconds, in all
        };
        std::map<std::pair<LevelId, ListId>, Chance> chances;
        for (const walk::Record& record : records_) look_for_idle(record, chances);
        std::vector<std::pair<double, Advice>> sorted;
        for (const auto& [what, chance] : chances) {
            Advice advice;
            advice.kind = Kind::unload;
            advice.level = what.first;
            advice.list = what.second;
            advice.edits = {AddUnload{what.second, what.first}};
            sorted.emplace_back(chance.held, std::move(advice));
        }
        std::stable_sort(sorted.begin(), sorted.end(), [](const auto& one, const auto& other) {
            return one.first > other.first;
        });
        std::vector<Advice> candidates;
        for (auto& [held, advice] : sorted) candidates.push_back(std::move(advice));
        // Of one level, the list that frees most.
        const bool once = true;
        return best(
            std::move(candidates),
            [](const Advice& each) {
                return freed_by(each) >= worth_holding && !costs_waiting(each);
            },
            freed_by, once);
    }
    template <class Chances>
    void look_for_idle(const walk::Record& record, Chances& chances) const {
        std::map<LevelId, Micros> last_need;
        for (const walk::Needed& needed : record.needed) {
            const plan::Level& level = plan_.levels[needed.level];
            if (level.persist || level.near) continue;
            Micros& last = last_need[needed.level];
            last = std::max(last, std::min(needed.to, record.end));
        }
        for (const loading::Holding& holding : record.holdings) {
            if (holding.holder != loading::Holder::piece || holding.index >= plan_.levels.size())
                continue;
            const LevelId level{holding.index};
            const auto last = last_need.find(level);
            if (last == last_need.end() || holding.from > last->second ||
                holding.to <= last->second)
                continue;
            look_for_idle(record, holding, level, last->second, chances);
        }
    }
    /// Whether a list of another level can let one go: not where it switches, after which it has,
    /// nor where it brings that level.
    [[nodiscard]] bool can_let_go(ListId id, LevelId level) const {
        const plan::StepList& list = plan_.lists[id];
        const std::vector<LevelId> in = plan::levels_of(list);
        const bool goes =
            std::any_of(list.steps.begin(), list.steps.end(),
                        [](const plan::Step& step) { return study::switch_of(step) != nullptr; });
        const bool brings =
            std::any_of(list.steps.begin(), list.steps.end(), [&](const plan::Step& step) {
                return plan::contains(study::read_step(step).asks, level);
            });
        return !in.empty() && !plan::contains(in, level) && !goes && !brings;
    }
    /// The lists that ran next after a level was needed last, while it was still held.
    template <class Chances>
    void look_for_idle(const walk::Record& record, const loading::Holding& holding, LevelId level,
                       Micros last_need, Chances& chances) const {
        constexpr std::ptrdiff_t lists_looked_at = 20;
        const auto& all = record.transitions;
        const auto first = std::lower_bound(
            all.begin(), all.end(), last_need,
            [](const walk::Transition& each, Micros moment) { return each.fired < moment; });
        for (auto each = first; each != all.end() && each - first < lists_looked_at; ++each) {
            const Micros idle = std::min(holding.to, record.end) - each->fired;
            if (!each->list || idle < plan::seconds(1)) continue;
            if (!can_let_go(each->list, level)) continue;
            chances[{level, each->list}].held +=
                plan::in_mebibytes(holding.size) * plan::in_seconds(idle);
        }
    }

    /// Levels that are shown while frames are slow, and that nobody needs then any more: hidden by
    /// a list that runs before or meanwhile.
    std::vector<Advice> shorter_frames() const {
        std::map<std::pair<LevelId, ListId>, Micros> chances; // cost times how long
        for (const walk::Record& record : records_) {
            for (const walk::SlowFrames& slow : record.slow_frames) {
                for (const auto& [level, cost] : slow.levels)
                    look_for_unneeded(record, slow, level, chances);
            }
        }
        std::vector<std::pair<Micros, Advice>> sorted;
        for (const auto& [what, slow] : chances) {
            Advice advice;
            advice.kind = Kind::hide;
            advice.level = what.first;
            advice.list = what.second;
            advice.edits = {AddHide{what.second, what.first}};
            sorted.emplace_back(slow, std::move(advice));
        }
        std::stable_sort(sorted.begin(), sorted.end(), [](const auto& one, const auto& other) {
            return one.first > other.first;
        });
        std::vector<Advice> candidates;
        for (auto& [slow, advice] : sorted) candidates.push_back(std::move(advice));
        const bool once = true;
        return best(
            std::move(candidates),
            [](const Advice& each) {
                return quickened_by(each) >= plan::seconds(1) && !costs_waiting(each);
            },
            quickened_by, once);
    }
    template <class Chances>
    void look_for_unneeded(const walk::Record& record, const walk::SlowFrames& slow, LevelId level,
                           Chances& chances) const {
        if (plan_.levels[level].persist || plan_.levels[level].near) return;
        Micros last; // when it was needed last before frames are short again
        for (const walk::Needed& needed : record.needed) {
            if (needed.level == level && needed.from < slow.to)
                last = std::max(last, std::min(needed.to, slow.to));
        }
        for (const walk::Transition& each : record.transitions) {
            if (!each.list || each.fired < last || each.fired >= slow.to) continue;
            if (can_let_go(each.list, level))
                chances[{level, each.list}] += slow.to - std::max(slow.from, each.fired);
        }
    }

    /// Levels that persist although nothing is gained by it.
    std::vector<Advice> let_go() const {
        const std::set<LevelId> kept_for = spoken_of(plan_);
        std::vector<Advice> candidates;
        for (const LevelId level : plan_.levels.ids()) {
            if (!plan_.levels[level].persist || kept_for.contains(level)) continue;
            candidates.push_back(keeping(level, false));
        }
        return best(
            std::move(candidates), [](const Advice& each) { return !costs_waiting(each); },
            freed_by);
    }

    /// Levels that are read again and again: those by which most waiting is saved for each MiB.
    std::vector<Advice> persist() const {
        std::map<LevelId, Bytes> read_again;
        for (const walk::Record& record : records_) {
            std::set<std::uint32_t> read;
            for (const loading::LoadRecord& load : record.loads) {
                if (load.piece.value >= plan_.levels.size() || !load.read_start) continue;
                if (read.insert(load.piece.value).second) continue;
                const auto& catalogue = judge_.study().catalogues[record.device.value];
                read_again[LevelId{load.piece.value}] += catalogue.pieces[load.piece].packed;
            }
        }
        std::vector<std::pair<Bytes, LevelId>> sorted;
        for (const auto& [level, bytes] : read_again) {
            if (!plan_.levels[level].persist) sorted.emplace_back(bytes, level);
        }
        std::stable_sort(sorted.begin(), sorted.end(), [](const auto& one, const auto& other) {
            return one.first > other.first;
        });
        std::vector<Advice> candidates;
        for (const auto& [bytes, level] : sorted) {
            candidates.push_back(keeping(level, true));
        }
        return best(
            std::move(candidates),
            [](const Advice& each) {
                return saved_by(each) >= worth_waiting && !costs_waiting(each);
            },
            [](const Advice& each) {
                return plan::in_seconds(saved_by(each)) /
                       static_cast<double>(std::max<std::int64_t>(each.amount, 1));
            });
    }
    [[nodiscard]] Advice keeping(LevelId level, bool persist) const {
        Advice advice;
        advice.kind = persist ? Kind::persist : Kind::let_go;
        advice.level = level;
        advice.edits = {SetPersist{level, persist}};
        advice.amount = size_of(level);
        return advice;
    }
    /// In MiB, on the device where it is largest.
    [[nodiscard]] std::int64_t size_of(LevelId level) const {
        Bytes most;
        for (const plan::DeviceId device : options_.devices) {
            const auto& catalogue = judge_.study().catalogues[device.value];
            most = std::max(most, catalogue.pieces[catalogue.piece_of(level)].unpacked);
        }
        return most.count >> 20;
    }

    const Judge& judge_;
    const Plan& plan_;
    const std::vector<walk::Record>& records_;
    const Options& options_;
};

} // namespace

std::vector<Effect> effects_of(const std::vector<walk::Record>& before,
                               const std::vector<walk::Record>& after) {
    std::map<plan::DeviceId, Effect> effects;
    for (std::size_t i = 0; i < before.size(); ++i) {
        Effect& effect = effects[before[i].device];
        effect.device = before[i].device;
        effect.waiting_before += waiting_in(before[i]);
        effect.waiting_after += waiting_in(after[i]);
        effect.slow_before += slow_in(before[i]);
        effect.slow_after += slow_in(after[i]);
        effect.peak_before = std::max(effect.peak_before, before[i].peak);
        effect.peak_after = std::max(effect.peak_after, after[i].peak);
    }
    std::vector<Effect> sorted;
    for (const auto& [device, effect] : effects) sorted.push_back(effect);
    return sorted;
}

std::vector<Advice> whole_plan(const Judge& judge, const Options& options) {
    if (judge.records().empty()) return {};
    return WholePlan(judge, options).all();
}

} // namespace hestrel::advise
