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

std::string time_text(plan::Micros time) {
    if (time < plan::seconds(1)) return std::to_string((time.count + 999) / 1000) + " ms";
    constexpr std::int64_t hundredth = 10'000;
    const std::int64_t hundredths = (time.count + hundredth - 1) / hundredth;
    std::string text = std::to_string(hundredths / 100);
    if (hundredths % 100 != 0) {
        text += hundredths % 100 < 10 ? ".0" : ".";
        text += std::to_string(hundredths % 100);
        if (text.back() == '0') text.pop_back();
    }
    return text + " s";
}

} // namespace hestrel::check
