#pragma once
// What to ask of the parts of the page.

#include "report/advice_section.hpp"
#include "support/plan_text.hpp"

#include <string>
#include <string_view>

namespace hestrel::tests {

/// How often a part stands in a text.
inline std::size_t count(const std::string& text, std::string_view part) {
    std::size_t times = 0;
    for (std::size_t at = text.find(part); at != std::string::npos; at = text.find(part, at + 1))
        ++times;
    return times;
}

/// Advice on all devices, from walks of all routes; nothing to set.
inline report::Advice advice_on(const plan::Plan& plan) {
    report::Advice advice;
    advise::Options options;
    for (const plan::DeviceId device : plan.devices.ids()) options.devices.push_back(device);
    advice.advised = advise::advise(plan, walks_of(plan), options);
    advice.settings.resize(advice.advised.all().size());
    return advice;
}
/// The same on the demo plan, worked out once: it is the longest part of several tests.
inline const report::Advice& advice_on_demo() {
    static const report::Advice advice = advice_on(demo_plan());
    return advice;
}

} // namespace hestrel::tests
