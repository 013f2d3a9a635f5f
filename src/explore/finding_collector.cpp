#include "explore/finding_collector.hpp"

#include "explore/explored.hpp"
#include "plan/finding_kinds.hpp"
#include "plan/fold_cells.hpp"
#include "plan/names.hpp"
#include "plan/texts.hpp"

#include <algorithm>
#include <tuple>

namespace hestrel::explore {

using plan::LevelId;
using plan::Owner;
using plan::ThingKind;

FindingCollector::FindingCollector(Explorer& explorer)
    : explorer_(explorer), plan_(explorer.plan()), zones_(plan_) {}

plan::Finding& FindingCollector::add(std::string_view name, const Owner& owner,
                                     const std::string& message, Trace way) {
    plan::Finding finding{plan::kind_of(name).severity, std::string(name), owner.place, message,
                          owner.thing};
    finding.edition = explorer_.options().edition;
    return found_.emplace_back(Found{std::move(finding), std::move(way)}).finding;
}

std::vector<Found> FindingCollector::take() {
    std::erase_if(found_, [&](const Found& each) {
        return plan::is_allowed(plan_, each.finding.name, *each.finding.about);
    });
    plan::fold_cells(plan_, found_, [](Found& each) -> plan::Finding& { return each.finding; });
    std::stable_sort(found_.begin(), found_.end(), [](const Found& one, const Found& other) {
        return one.finding.severity < other.finding.severity;
    });
    return std::move(found_);
}

FindingCollector::Trace FindingCollector::through(const Outcome& outcome) const {
    return explorer_.trace_to(outcome.first, {outcome.taken});
}

Owner FindingCollector::last_of(const Way& way) const {
    if (way.size() > 1) {
        const Move& move = explorer_.moves()[explorer_.taken(way.back()).move];
        if (move.kind == Move::Kind::press)
            return {plan_.items[move.item].place, {ThingKind::item, move.item.value}};
        if (move.kind == Move::Kind::after)
            return {plan_.menus[move.menu].place, {ThingKind::menu, move.menu.value}};
    }
    return level_owner(explorer_.start_level());
}

Owner FindingCollector::owner_in(const Effect& effect, const Made& made) const {
    if (!effect.log.lists.empty()) return plan::owner_of(plan_, effect.log.lists.front());
    const auto& running = explorer_.control_of(explorer_.row(made.situation)).runs;
    if (!running.empty()) return plan::owner_of(plan_, running.front().list);
    return last_of(*through(made));
}

Owner FindingCollector::level_owner(LevelId level) const {
    return {plan_.levels[level].place, {ThingKind::level, level.value}};
}

std::vector<LevelId> FindingCollector::stood_in(const PlayerNow& player) const {
    std::vector<LevelId> levels;
    for (const flow::ZoneId id : player.standing.inside) {
        if (zones_[id].kind == flow::Zone::Kind::area) levels.push_back(zones_[id].level());
    }
    return levels;
}

std::vector<const Outcome*> FindingCollector::eventful_outcomes() const {
    std::vector<const Outcome*> outcomes;
    explorer_.for_outcomes([&](const Outcome& outcome) {
        const Effect& effect = explorer_.effects()[outcome.effect];
        const MoveLog& log = effect.log;
        if (effect.ended || !log.unloaded.empty() || !log.notes.empty() || !log.breaches.empty())
            outcomes.push_back(&outcome);
    });
    std::stable_sort(
        outcomes.begin(), outcomes.end(),
        [](const Outcome* one, const Outcome* other) { return one->first < other->first; });
    return outcomes;
}

FindingCollector::Trace FindingCollector::through(const Made& made) const {
    return explorer_.trace_to(made.situation, {made.outcome->taken});
}

void FindingCollector::for_moves(const std::function<bool(const Effect&)>& wanted,
                                 const std::function<void(const Made&, const Effect&)>& what) {
    explorer_.for_wanted(wanted, [&](std::uint32_t from, std::uint32_t to, const Outcome& outcome) {
        what({from, to, &outcome}, explorer_.effects()[outcome.effect]);
    });
}

void FindingCollector::memory(const std::vector<WorstUse>& all, std::string_view when_settled,
                              std::string_view in_a_move, const std::vector<WorstUse>& already) {
    struct Over {
        const WorstUse* worst;
        std::string text;
    };
    const auto known = [&](const WorstUse& worst, bool during) {
        const WorstUse* before = worst_of(already, worst.device, worst.pool, during);
        return before != nullptr && before->used >= worst.used;
    };
    std::vector<Over> over;
    std::set<std::tuple<std::size_t, std::uint32_t, bool>> said;
    for (const WorstUse& worst : all) {
        if (worst.used <= worst.budget) continue;
        if (!said.emplace(worst.device, worst.pool.value, worst.during).second) continue;
        if (known(worst, false) || known(worst, true)) continue;
        const WorstUse* settled = worst_of(all, worst.device, worst.pool, false);
        if (worst.during && settled != nullptr && settled->used >= worst.used) continue;
        const std::string what = worst.pool ? plan_.pools[worst.pool] : std::string("memory");
        const std::string text = plan::short_memory(worst.used - worst.budget) + " over its " +
                                 plan::short_memory(worst.budget);
        const auto same = std::find_if(over.begin(), over.end(), [&](const Over& each) {
            return each.worst->device == worst.device && each.worst->during == worst.during &&
                   each.worst->way == worst.way;
        });
        if (same == over.end()) {
            over.push_back({&worst, what + " can be " + text});
        } else {
            same->text += ", " + what + " " + text;
        }
    }
    for (const Over& each : over) {
        const plan::Device& device = plan_.devices[explorer_.options().devices[each.worst->device]];
        add("over-budget", owner_of_last_list(each.worst->way, each.worst->last),
            "on " + device.name + " " + each.text + " " +
                std::string(each.worst->during ? in_a_move : when_settled),
            each.worst->way)
            .device = explorer_.options().devices[each.worst->device];
    }
}

void FindingCollector::frames(const std::vector<WorstFrame>& all, std::string_view when_settled,
                              std::string_view in_a_move, const std::vector<WorstFrame>& already) {
    for (const WorstFrame& worst : all) {
        const auto as_long = [&](const WorstFrame& other) {
            return other.device == worst.device && other.work >= worst.work;
        };
        if (worst.work <= worst.most || std::any_of(already.begin(), already.end(), as_long))
            continue;
        const bool settled_too =
            worst.during && std::any_of(all.begin(), all.end(), [&](const auto& each) {
                return !each.during && as_long(each);
            });
        if (settled_too) continue;
        const plan::DeviceId device = explorer_.options().devices[worst.device];
        add("slow-frames", owner_of_last_list(worst.way, worst.last),
            "on " + plan_.devices[device].name + " frames can last " +
                plan::frame_text(plan_, device, worst.work, worst.levels) + " " +
                std::string(worst.during ? in_a_move : when_settled),
            worst.way)
            .device = device;
    }
}

/// What a way's last move set off first; else the move itself.
Owner FindingCollector::owner_of_last_list(const Way& way, const Effect* last) const {
    return last == nullptr || last->log.lists.empty()
               ? last_of(way)
               : plan::owner_of(plan_, last->log.lists.front());
}

std::string FindingCollector::shown_in(const Word* row) const {
    const std::vector<LevelId> shown = shown_of(explorer_.all_levels(row));
    return shown.empty() ? "nothing" : plan::joined(plan::told_names(plan_, shown));
}

void FindingCollector::add_broken(const plan::Breach& what, const std::string& when, Trace way) {
    const plan::Rule& rule = plan_.rules[what.rule];
    plan::Finding& added = add("rule-broken", plan::owner_of(plan_, what.rule),
                               plan::breach_text(plan_, what) + when, std::move(way));
    if (rule.kind == plan::Rule::Kind::contents) {
        added.level = rule.levels.front();
    } else {
        added.rule = what.rule;
    }
}

void FindingCollector::broken_rules() {
    for (const Broken& broken : explorer_.broken()) {
        add_broken(broken.what,
                   ", with everything settled and " + shown_in(explorer_.row(broken.first)) +
                       " shown",
                   to(broken.first));
    }
    std::set<plan::RuleId> said;
    for (const Outcome* outcome : eventful_outcomes()) {
        for (const plan::Breach& each : explorer_.effects()[outcome->effect].log.breaches) {
            if (said.insert(each.rule).second)
                add_broken(each, ", during a move, where a list waits", through(*outcome));
        }
    }
}

void FindingCollector::circles() {
    std::set<plan::Thing> said;
    for (const Effect& effect : explorer_.effects()) {
        if (!effect.log.endless || effect.log.lists.empty()) continue;
        const Owner owner = plan::owner_of(plan_, effect.log.lists.back());
        if (said.insert(owner.thing).second)
            add("never-settles", owner, "this is set off over and over, without end", {});
    }
}

void FindingCollector::refusals(const Outcome& outcome, const Effect& effect) {
    for (const MoveLog::Event& note : effect.log.notes) {
        const bool beyond = note.kind == flow::EventKind::beyond_edition;
        const bool rival = note.kind == flow::EventKind::switch_refused;
        if ((!beyond && !rival) || !note.list) continue;
        Owner owner = plan::owner_of(plan_, note.list);
        if (!refused_.emplace(note.kind, owner.thing).second) continue;
        const LevelId level{note.detail};
        if (beyond) owner.place = note.place;
        add(beyond ? "beyond-edition" : "rival-switches", owner,
            beyond
                ? plan::beyond_text(plan_, explorer_.options().edition, level)
                : "the switch to " + plan_.levels[level].name + " is refused: another is under way",
            through(outcome))
            .level = level;
    }
}

void FindingCollector::unloaded_under(const Made& made, const Effect& effect) {
    const Word* after = explorer_.row(made.leads_to);
    if (!explorer_.control_of(after).veils.empty()) return;
    const auto& unloaded = effect.log.unloaded;
    for (std::size_t player = 0; player < explorer_.players().size(); ++player) {
        for (const LevelId level : stood_in(explorer_.player_of(after, player))) {
            const bool gone =
                std::find(unloaded.begin(), unloaded.end(), level) != unloaded.end() &&
                !explorer_.level_sets().is_there(explorer_.level_number(after), level);
            if (!gone || !under_.insert(level).second) continue;
            add("unload-under-player", owner_in(effect, made),
                plan_.levels[level].name + " is unloaded while a player stands in it",
                through(made))
                .level = level;
        }
    }
}

} // namespace hestrel::explore
