#include "order/edition_order.hpp"

#include "plan/questions.hpp"
#include "study/study.hpp"
#include "walk/timeline.hpp"

#include <algorithm>
#include <set>

namespace hestrel::order {

using plan::LevelId;
using plan::ListId;

namespace {

/// Everything about one edition that is looked up again and again.
struct Looking {
    const plan::Plan& plan;
    const plan::Edition& edition;
    study::Study study;
    study::LevelFlow flow;
    std::vector<study::LevelWay> ways;
    std::map<LevelId, std::size_t> positions; ///< the first, of a level that is listed twice

    Looking(const plan::Plan& of, plan::EditionId id)
        : plan(of), edition(of.editions[id]), study(of, {}), flow(of), ways(flow.ways()) {
        for (std::size_t i = 0; i < edition.levels.size(); ++i)
            positions.try_emplace(edition.levels[i], i);
    }
};

/// A list's steps with those of its branches and cases.
template <class Each>
void for_all_steps(const plan::Plan& plan, ListId list, Each each) {
    for (const plan::Step& step : plan.lists[list].steps) {
        each(step);
        plan::for_sublists(step, [&](ListId sublist) { for_all_steps(plan, sublist, each); });
    }
}

std::vector<LevelNeed> needs_of(const plan::Plan& plan, LevelId level) {
    std::vector<LevelNeed> needs;
    for (LevelId parent = plan.levels[level].parent; parent; parent = plan.levels[parent].parent)
        needs.push_back({level, parent, LevelNeed::Why::parent, plan.levels[level].place});
    if (!plan.levels[level].arrive) return needs;
    for_all_steps(plan, plan.levels[level].arrive, [&](const plan::Step& step) {
        const bool goes_away = study::switch_of(step) != nullptr;
        if (goes_away || std::holds_alternative<plan::MarkStep>(step.what)) return;
        for (const LevelId asked : study::levels_called(step)) {
            for (LevelId each = asked; each && each != level; each = plan.levels[each].parent) {
                // What is inside of it comes after it, whatever asks.
                bool inside = false;
                for (LevelId up = each; up; up = plan.levels[up].parent)
                    inside = inside || up == level;
                const bool known = std::any_of(needs.begin(), needs.end(), [&](const auto& need) {
                    return need.needs == each;
                });
                if (!inside && !known)
                    needs.push_back({level, each, LevelNeed::Why::arrive, step.place});
            }
        }
    });
    return needs;
}

std::vector<plan::KitId> kits_of(const plan::Plan& plan, LevelId level) {
    std::vector<plan::KitId> all;
    std::vector<plan::KitId> open(plan.levels[level].kits.rbegin(), plan.levels[level].kits.rend());
    std::set<plan::KitId> known;
    while (!open.empty()) {
        const plan::KitId kit = open.back();
        open.pop_back();
        if (!known.insert(kit).second) continue;
        all.push_back(kit);
        for (const plan::KitId needed : plan.kits[kit].needs) open.push_back(needed);
    }
    return all;
}

/// When each level was asked for first on routes that play the edition.
std::map<LevelId, FirstAsked> first_asked(const plan::Plan& plan, plan::EditionId edition,
                                          const std::vector<walk::Record>& records) {
    std::map<LevelId, FirstAsked> asked;
    for (std::size_t i = 0; i < records.size(); ++i) {
        if (plan.routes[records[i].route].edition != edition) continue;
        const walk::Timeline timeline = walk::timeline_of(plan, records[i]);
        for (const LevelId level : plan.levels.ids()) {
            const auto& stretches = timeline[loading::PieceId{level.value}];
            if (stretches.empty()) continue;
            const auto [known, fresh] =
                asked.try_emplace(level, FirstAsked{stretches.front().from, i});
            if (!fresh && stretches.front().from < known->second.at)
                known->second = {stretches.front().from, i};
        }
    }
    return asked;
}

/// Steps that go by position, from every level in which their list can be met.
std::vector<PositionUse> uses_in(const Looking& looking, plan::EditionId edition) {
    std::vector<PositionUse> uses;
    const plan::Plan& plan = looking.plan;
    const auto& levels = looking.edition.levels;
    for (const ListId id : plan.lists.ids()) {
        if (!looking.study.can_run_in(plan.lists[id], edition)) continue;
        const ListId top = plan::top_list(plan, id);
        for (const plan::Step& step : plan.lists[id].steps) {
            const plan::SwitchStep* change = study::switch_of(step);
            if (change == nullptr || change->to) continue;
            const auto led_to = [&](std::optional<std::size_t> from) {
                const auto place = plan::place_led_to(*change, from, levels.size());
                return place ? levels[*place] : LevelId{};
            };
            if (change->position) {
                const LevelId to = led_to({});
                uses.push_back(
                    {PositionUse::Kind::position, step.place, top, *change->position, {}, to, to});
                continue;
            }
            const bool next = change->target == plan::SwitchStep::Target::next;
            for (const LevelId from : looking.flow.counts_from(top)) {
                const auto here = looking.positions.find(from);
                if (!from || here == looking.positions.end()) continue;
                const LevelId to = led_to(here->second);
                uses.push_back({next ? PositionUse::Kind::next : PositionUse::Kind::back,
                                step.place, top, 0, from, to, to});
            }
        }
    }
    return uses;
}

/// Where uses lead once the edition has another order.
void lead_anew(std::vector<PositionUse>& uses, const std::vector<LevelId>& order) {
    std::map<LevelId, std::size_t> positions;
    for (std::size_t i = 0; i < order.size(); ++i) positions.try_emplace(order[i], i);
    const auto at = [&](std::size_t position) {
        return position < order.size() ? order[position] : LevelId{};
    };
    for (PositionUse& use : uses) {
        switch (use.kind) {
        case PositionUse::Kind::position: use.then = at(use.position); break;
        case PositionUse::Kind::next: use.then = at(positions.at(use.from) + 1); break;
        case PositionUse::Kind::back:
            use.then = positions.at(use.from) == 0 ? LevelId{} : at(positions.at(use.from) - 1);
            break;
        }
    }
}

std::vector<NotShipped> not_shipped_in(const Looking& looking, plan::EditionId edition) {
    std::vector<NotShipped> found;
    for (const ListId id : looking.plan.lists.ids()) {
        if (!looking.study.can_run_in(looking.plan.lists[id], edition)) continue;
        for (const plan::Step& step : looking.plan.lists[id].steps) {
            for (const LevelId level : study::levels_called(step)) {
                if (!looking.study.ships_level(edition, level))
                    found.push_back({step.place, plan::top_list(looking.plan, id), level});
            }
        }
    }
    return found;
}

/// When any player can need it first. Routes tell times; what none of them asks for counts as early
/// as the first thing they ask for that takes as many moves or more, and comes last where none
/// does.
std::optional<plan::Micros> moment_of(const EditionOrder& order, const ListedLevel& listed) {
    if (listed.asked) return listed.asked->at;
    if (!listed.moves) return std::nullopt;
    plan::Micros last;
    std::optional<plan::Micros> moment;
    for (const ListedLevel& other : order.levels) {
        if (!other.asked) continue;
        last = std::max(last, other.asked->at);
        if (!other.moves || *other.moves < *listed.moves) continue;
        moment = std::min(moment.value_or(other.asked->at), other.asked->at);
    }
    return moment ? *moment : last + plan::Micros{1 + *listed.moves};
}

Things things_of(const EditionOrder& order, const Looking& looking, bool keep_positions) {
    Things things;
    for (std::size_t i = 0; i < order.levels.size(); ++i) {
        const ListedLevel& listed = order.levels[i];
        things.moments.push_back(moment_of(order, listed));
        things.pinned.push_back(keep_positions && listed.pinned);
        for (const LevelNeed& need : listed.needs) {
            const auto before = looking.positions.find(need.needs);
            if (before != looking.positions.end() && before->second != i)
                things.needs.push_back({before->second, i});
        }
    }
    return things;
}

/// The needs that make up a circle of levels, of which each must come before the next.
NeedCircle circle_of(const EditionOrder& order, const std::vector<std::size_t>& circle) {
    NeedCircle needs;
    for (std::size_t i = circle.size(); i-- > 0;) {
        const LevelId before = order.levels[circle[i]].level;
        const ListedLevel& after = order.levels[circle[(i + 1) % circle.size()]];
        for (const LevelNeed& need : after.needs) {
            if (need.needs != before) continue;
            needs.push_back(need);
            break;
        }
    }
    return needs;
}

} // namespace

std::vector<LevelId> EditionOrder::proposed_levels() const {
    std::vector<LevelId> order;
    for (const std::size_t i : proposed) order.push_back(levels[i].level);
    return order;
}

EditionOrder order_edition(const plan::Plan& plan, plan::EditionId edition,
                           const std::vector<walk::Record>& records, const OrderOptions& options) {
    const Looking looking(plan, edition);
    EditionOrder order;
    order.edition = edition;
    order.uses = uses_in(looking, edition);
    order.not_shipped = not_shipped_in(looking, edition);
    std::set<LevelId> pinned;
    for (const PositionUse& use : order.uses) {
        if (use.today) pinned.insert(use.today);
        if (use.from) pinned.insert(use.from);
    }
    const auto asked = first_asked(plan, edition, records);
    for (std::size_t i = 0; i < looking.edition.levels.size(); ++i) {
        ListedLevel listed;
        listed.level = looking.edition.levels[i];
        listed.place = looking.edition.level_places[i];
        listed.needs = needs_of(plan, listed.level);
        listed.kits = kits_of(plan, listed.level);
        for (const study::LevelWay& way : looking.ways) {
            if (way.from == listed.level) listed.goes_to.push_back(way.to);
        }
        std::sort(listed.goes_to.begin(), listed.goes_to.end());
        listed.goes_to.erase(std::unique(listed.goes_to.begin(), listed.goes_to.end()),
                             listed.goes_to.end());
        if (const auto found = asked.find(listed.level); found != asked.end())
            listed.asked = found->second;
        const auto reached = options.moves_until_there.find(listed.level);
        if (reached != options.moves_until_there.end()) listed.moves = reached->second;
        listed.pinned = pinned.contains(listed.level);
        order.levels.push_back(std::move(listed));
    }
    const Things things = things_of(order, looking, options.keep_positions);
    order.proposed = stable_order(things);
    order.moves = moves_to(things, order.proposed);
    for (const auto& circle : circles(order.levels.size(), things.needs))
        order.circles.push_back(circle_of(order, circle));
    lead_anew(order.uses, order.proposed_levels());
    return order;
}

} // namespace hestrel::order
