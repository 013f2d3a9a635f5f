#include "study/contents.hpp"

#include "plan/questions.hpp"
#include "study/together.hpp"

#include <map>

namespace hestrel::study {

using plan::LevelId;
using plan::WordId;

std::vector<Contents> contents_of(const Study& study) {
    const plan::Plan& plan = study.plan;
    std::map<WordId, std::vector<LevelId>> providers;
    for (const LevelId id : plan.levels.ids()) {
        for (const WordId word : plan.levels[id].provides) providers[word].push_back(id);
    }
    Together together(study);
    const auto provided = [&](LevelId id, WordId need) {
        const plan::Level& level = plan.levels[id];
        const auto& others = providers[need];
        return std::any_of(others.begin(), others.end(), [&](LevelId other) {
            const bool rivals = level.variants && level.variants == plan.levels[other].variants;
            return !rivals && study.uses[other].shown &&
                   plan::can_provide(plan.levels[other], level, need) && together.can_be(id, other);
        });
    };
    std::vector<Contents> all;
    for (const LevelId id : plan.levels.ids()) {
        const plan::Level& level = plan.levels[id];
        if (!level.purpose && level.provides.empty()) continue;
        Contents contents{id, {}, {}};
        if (level.purpose) {
            for (const WordId need : plan.purposes[level.purpose].needs) {
                if (plan::has_itself(plan, level, need)) continue;
                const bool others = need != plan.way_in && provided(id, need);
                (others ? contents.from_others : contents.missing).push_back(need);
            }
        }
        all.push_back(std::move(contents));
    }
    return all;
}

} // namespace hestrel::study
