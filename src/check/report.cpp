#include "check/report.hpp"

namespace hestrel::check {

using plan::LevelId;

std::string names_of(const plan::Plan& plan, const std::vector<LevelId>& levels) {
    std::string names;
    for (std::size_t i = 0; i < levels.size(); ++i) {
        if (i > 0) names += i + 1 == levels.size() ? " and " : ", ";
        names += plan.levels[levels[i]].name;
    }
    return names;
}

} // namespace hestrel::check
