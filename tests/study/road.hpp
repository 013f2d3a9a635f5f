#pragma once
// A short road, on which where players come from is worked out by hand.

#include "support/plan_text.hpp"

namespace hestrel::tests {

/// A road a-b-c of 50 m each, one-way from b to c, and three triggers.
inline plan::Plan short_road() {
    return plan_from(R"(hestrel: 1
levels: {quay: {area: {min: [80, -1, -1], max: [100, 1, 1]}, seen-from: {min: [70, -1, -1], max: [75, 1, 1]}}}
waypoints: {a: [0, 0, 0], b: [50, 0, 0], c: [100, 0, 0]}
paths: [[a, b], {from: b, to: c, one-way: true}]
triggers:
  t: {box: {min: [10, -1, -1], max: [20, 1, 1]}, steps: []}
  u: {box: {min: [60, -1, -1], max: [65, 1, 1]}, fires: on-exit, steps: []}
  at-b: {sphere: {at: [50, 0, 0], radius: 2}, steps: []}
)");
}

} // namespace hestrel::tests
