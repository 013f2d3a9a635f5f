#pragma once
// A clean plan, and what check finds where it is changed.

#include "check/check.hpp"
#include "support/plan_text.hpp"

#include <fmt/format.h>
#include <string>
#include <vector>

namespace hestrel::tests {

/// A plan without findings: two levels, a way, a trigger that streams and one that unloads.
inline const std::string clean = R"(hestrel: 1
devices: {d: {memory: {total: 900, base: 100, pools: {texture: 700}}, read: {rate: 90}, frame: {fps: 30}}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [[a, b]]
players: {carrier: {tags: [carrier], speeds: {walk: 2}}}
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 100}, entries: {steps: b}}
veils: {dawn: {min: 1 s}}
menus: {desk: {in: hall, items: {go: {steps: [{veil: dawn}, {unveil: dawn}]}}}}
routes: {r: {start: {level: hall}, steps: []}}
triggers:
  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{show: [quay]}]}
  u: {in: hall, box: {min: [50, -1, -1], max: [60, 1, 1]}, steps: [{unload: [quay]}]}
)";

/// `clean` with the first occurrence of `from` replaced.
inline std::string with(const std::string& from, const std::string& to) {
    std::string text = clean;
    const std::size_t at = text.find(from);
    REQUIRE(at != std::string::npos);
    return text.replace(at, from.size(), to);
}

/// Findings as "line:column name".
inline std::vector<std::string> found(const std::string& text) {
    std::vector<std::string> lines;
    for (const plan::Finding& finding : check::check(plan_from(text))) {
        lines.push_back(
            fmt::format("{}:{} {}", finding.place.line, finding.place.column, finding.name));
    }
    return lines;
}

inline void breaks(const std::string& text, const std::string& expected) {
    CAPTURE(text);
    CHECK(found(text) == Lines{expected});
}
inline void keeps(const std::string& text) {
    CAPTURE(text);
    CHECK(found(text) == Lines{});
}

} // namespace hestrel::tests
