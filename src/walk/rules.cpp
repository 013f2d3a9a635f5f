// What the names of a walk's findings mean.

#include "walk/findings.hpp"

#include <array>

namespace hestrel::walk {

namespace {

constexpr plan::Severity error = plan::Severity::error;
constexpr plan::Severity warning = plan::Severity::warning;

constexpr std::array all_rules{
    plan::RuleText{
        "stood-in-gap", error, "A player stands in a level that is not shown.",
        "The player falls, or sees nothing around. Ask for the level earlier, gate the "
        "way, or veil it.\n\n"
        "    quay-approach: {box: {min: [30, 0, 10], max: [34, 4, 30]}}   # farther out\n"},
    plan::RuleText{"placed-before-shown", error,
                   "A player is placed in a level that is not shown yet.",
                   "Wait for it first.\n\n    steps: [{show: [quay]}, {wait: {shown: [quay]}}, "
                   "{place: {at: quay.steps}}]\n"},
    plan::RuleText{"unveiled-too-early", error, "A veil comes down before what it hides is shown.",
                   "Wait for the level instead of a time, or give the veil a longer `min`.\n\n"
                   "    steps: [{veil: lift}, {show: [quay]}, {wait: {shown: [quay]}}, {unveil: "
                   "lift}]\n"},
    plan::RuleText{"over-budget", error, "Memory exceeds a device's total or one of its pools.",
                   "walk.json says who held what. Free the old before loading the new, unload "
                   "earlier, or make something lighter.\n\n"
                   "    - switch: {to: far-shore, veil: crossing, order: free-first}\n"},
    plan::RuleText{
        "stuck", error, "A walk can't go on.",
        "The message says what waits for what. Often a level that nothing asks for, a menu "
        "that nothing opens, or a freeze that nothing ends.\n\n"
        "    - wait: {ready: [quay]}\n      at-most: 20 s\n"},
    plan::RuleText{"not-delivered", error, "A level is asked for before its parcel has arrived.",
                   "Put it into an earlier parcel, or hold players until it is there.\n\n"
                   "    when: delivered(far-shore)\n"},
    plan::RuleText{
        "seen-gap", warning, "A player could see that a level is not shown.",
        "Show it before players can look at where it is.\n\n    seen-from: [{min: [60, 0, "
        "10], max: [75, 8, 30]}]\n"},
    plan::RuleText{"low-slack", warning, "A level is shown barely before it is needed.",
                   "Less than the plan's own `limits.slack`.\n\n    limits: {slack: 0.5 s}\n"},
    plan::RuleText{
        "long-stall", warning, "A player is held up, and nothing hides it.",
        "Longer than the plan's own `limits.stall`. Load ahead, or veil it.\n\n    limits: "
        "{stall: 2 s}\n"},
    plan::RuleText{
        "long-hitch", warning, "A frame takes far too long.",
        "By more than the plan's own `limits.hitch`: too many objects attached or released "
        "at once.\n\n    frame: {attach: 3 ms}\n"},
    plan::RuleText{"low-headroom", warning, "Too little of the memory stays free.",
                   "Less than the plan's own `limits.headroom`.\n\n    limits: {headroom: 5%}\n"},
    plan::RuleText{"wait-too-long", warning, "A wait gives up.",
                   "What it waited for did not come within its `at-most`, and its list went on "
                   "without.\n\n    - wait: {ready: [quay]}\n      at-most: 20 s\n"},
    plan::RuleText{"steps-abandoned", warning, "The rest of a list of steps is never done.",
                   "The level that the list belongs to left while it was running. Put what must be "
                   "done into a level that stays.\n\n    arrive: [{unveil: dawn}]\n"},
    plan::RuleText{
        "switch-refused", warning, "A switch is refused: another is under way.",
        "One switch has to end, its veil's `min` included, before the next can begin.\n\n"
        "    - until: shown(title) and not veiled\n"},
    plan::RuleText{
        "out-of-range", warning, "A fact is kept at the bound of its range.",
        "Steps set or add more than it can hold.\n\n    letters: {initial: 0, range: [0, "
        "12]}\n"},
    plan::RuleText{
        "load-thrash", plan::Severity::note, "Something is read again soon after it was released.",
        "Within 30 s. Keep it while players may come back.\n\n    near: {load: 80, unload: "
        "110}\n"},
};

} // namespace

std::span<const plan::RuleText> rules() {
    return all_rules;
}

} // namespace hestrel::walk
