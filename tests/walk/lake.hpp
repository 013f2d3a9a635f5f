#pragma once
// A plan of two levels on a line, on which walks are worked out by hand.

#include "support/plan_text.hpp"

#include <string>

namespace hestrel::tests {

/// A hall of 100 MiB (shown at 1.01 s, the end of the boot), a quay of 200 MiB (2 s, and 10 ms to
/// attach), and a straight way of 100 m at 2 m/s, 5 m/s at a run.
inline const std::string lake = R"(
levels:
  hall: {memory: {texture: 100}, entries: {door: a}}
  quay: {memory: {texture: 200}, entries: {steps: b, end: c}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0], c: [100, 0, 50]}
paths: [[a, b, c]]
players: {carrier: {tags: [carrier], speeds: {walk: 2, run: 5}}, guest: {tags: [guest], speeds: {walk: 2}}}
)";

inline std::string lake_route(const std::string& steps) {
    return "routes: {r: {start: {level: hall}, steps: [" + steps + "]}}\n";
}

/// Walks from a to b past one trigger.
inline Walked past_one(const std::string& trigger, const std::string& steps = "{go: b}",
                       const std::string& more = "") {
    return Walked(lake + more + "triggers:\n  t: {" + trigger + "}\n" + lake_route(steps));
}

/// The moment at which the player is at an x on its first way from a, at 2 m/s.
inline plan::Micros at_x(int x) {
    return plan::milliseconds(1'010 + 500 * x);
}

} // namespace hestrel::tests
