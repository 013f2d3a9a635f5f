// What only players who hurry run into (docs/model.md section 8): more memory, switches that meet,
// levels unloaded under a player, lists that race.

#include "explore/explored.hpp"
#include "explore/finding_collector.hpp"
#include "explore/races.hpp"
#include "plan/names.hpp"

#include <algorithm>
#include <set>

namespace hestrel::explore {

using plan::LevelId;

namespace {

class HurriedFindings : private FindingCollector {
public:
    explicit HurriedFindings(Explorer& explorer) : FindingCollector(explorer) {}

    std::vector<Found> collect(const Explored& hurried, const Explored& unhurried) {
        constexpr std::string_view between = "where players hurry, between two moves";
        constexpr std::string_view during = "where players hurry, during a move, at most";
        memory(hurried.worst, between, during, unhurried.worst);
        frames(hurried.frames, between, during, unhurried.frames);
        broken_rules();
        circles();
        for (const Outcome* outcome : eventful_outcomes()) {
            const Effect& effect = explorer_.effects()[outcome->effect];
            refusals(*outcome, effect);
            abandoned(*outcome, effect);
        }
        for_moves([](const Effect& effect) { return !effect.log.unloaded.empty(); },
                  [&](const Made& made, const Effect& effect) { unloaded_under(made, effect); });
        race();
        return take();
    }

private:
    /// Steps that are left because their level is unloaded.
    void abandoned(const Outcome& outcome, const Effect& effect) {
        for (const MoveLog::Event& note : effect.log.notes) {
            if (note.kind != flow::EventKind::abandoned || !note.list) continue;
            if (!abandoned_.insert(note.list).second) continue;
            add("steps-abandoned", plan::owner_of(plan_, note.list),
                plan_.levels[LevelId{note.detail}].name +
                    " is unloaded before these steps are through: the rest is not done",
                through(outcome))
                .level = LevelId{note.detail};
        }
    }

    void race() {
        for (const Race& each : races(explorer_)) {
            std::string others;
            for (std::size_t i = 0; i + 1 < each.lists.size(); ++i)
                others += (i == 0 ? "" : ", ") + plan::list_name(plan_, each.lists[i]);
            add("order-matters", plan::owner_of(plan_, each.lists.back()),
                plan::list_name(plan_, each.lists.back()) + " runs beside " + others +
                    ", and it depends on what comes first how they end: " +
                    difference_text(explorer_, each.one, each.other),
                to(each.situation));
        }
    }

    std::set<plan::ListId> abandoned_;
};

} // namespace

std::vector<Found> hurried_findings(const Explored& hurried, const Explored& unhurried) {
    std::vector<Found> found = HurriedFindings(*hurried.explorer).collect(hurried, unhurried);
    std::erase_if(found, [&](const Found& each) {
        const bool measured =
            each.finding.name == "over-budget" || each.finding.name == "slow-frames";
        return !measured &&
               std::any_of(unhurried.found.begin(), unhurried.found.end(), [&](const Found& other) {
                   return other.finding.name == each.finding.name &&
                          other.finding.about == each.finding.about;
               });
    });
    return found;
}

} // namespace hestrel::explore
