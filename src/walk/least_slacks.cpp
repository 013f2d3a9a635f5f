#include "walk/least_slacks.hpp"

#include "plan/questions.hpp"

namespace hestrel::walk {

LeastSlacks least_slacks(const plan::Plan& plan, std::span<const Record> records) {
    LeastSlacks slacks;
    for (std::size_t i = 0; i < records.size(); ++i) {
        for (const LevelOutcome& outcome : records[i].outcomes) {
            if (!outcome.slack || outcome.held || outcome.transition == 0) continue;
            const plan::ListId list = records[i].transitions[outcome.transition - 1].list;
            if (!list) continue;
            const auto key = std::pair(plan::top_list(plan, list), outcome.level);
            const auto [at, added] = slacks.try_emplace(key, LeastSlack{*outcome.slack, i});
            if (!added && *outcome.slack < at->second.slack) at->second = {*outcome.slack, i};
        }
    }
    return slacks;
}

} // namespace hestrel::walk
