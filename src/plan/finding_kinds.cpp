#include "plan/finding_kinds.hpp"

#include <algorithm>
#include <array>
#include <stdexcept>
#include <string>

namespace hestrel::plan {

namespace {

using enum Severity;
using enum FoundBy;
constexpr Verdict none = Verdict::fine; // it does not change what became of a walk

constexpr std::array all_kinds{
    FindingKind{"broken-yaml", error, reader},
    FindingKind{"unknown-key", error, reader},
    FindingKind{"missing-key", error, reader},
    FindingKind{"unknown-name", error, reader | verify},
    FindingKind{"defined-twice", error, reader},
    FindingKind{"cycle", error, reader},
    FindingKind{"wrong-value", error, reader},
    FindingKind{"path-across-worlds", error, reader},
    FindingKind{"include-outside", note, reader},
    FindingKind{"name-hidden", note, reader},
    FindingKind{"target-not-in-edition", error, check},
    FindingKind{"position-out-of-edition", error, check},
    FindingKind{"value-without-level", error, check},
    FindingKind{"position-unclear", error, check},
    FindingKind{"trigger-fits-nobody", error, check},
    FindingKind{"trigger-brings-own-level", error, check},
    FindingKind{"gate-without-load", error, check},
    FindingKind{"steps-after-own-unload", error, check},
    FindingKind{"leave-waits", error, check},
    FindingKind{"start-parcel-incomplete", error, check},
    FindingKind{"base-over-budget", error, check},
    FindingKind{"level-over-budget", error, check},
    FindingKind{"return-without-mark", error, check},
    FindingKind{"pick-of-nothing", error, check},
    FindingKind{"no-way-there", error, check},
    FindingKind{"lives-too-late", error, check},
    FindingKind{"gate-from-behind", error, check},
    FindingKind{"loaded-never-shown", warning, check},
    FindingKind{"never-unloaded", warning, check},
    FindingKind{"persisting-unloaded", warning, check},
    FindingKind{"trigger-off-paths", warning, check},
    FindingKind{"trigger-too-thin", warning, check},
    FindingKind{"way-around", warning, check},
    FindingKind{"switch-before-gate", warning, check},
    FindingKind{"arrival-in-trigger", warning, check},
    FindingKind{"catch-too-small", warning, check},
    FindingKind{"trigger-too-late", warning, check},
    FindingKind{"fixed-wait-for-load", warning, check},
    FindingKind{"switch-without-veil", warning, check},
    FindingKind{"veil-left-up", warning, check},
    FindingKind{"freeze-without-thaw", warning, check},
    FindingKind{"items-alike", warning, check},
    FindingKind{"empty-level", warning, check},
    FindingKind{"size-drift", warning, check},
    FindingKind{"unbounded-fact", warning, check},
    FindingKind{"restore-without-save", warning, check},
    FindingKind{"saved-never-set", warning, check},
    FindingKind{"fact-never-read", warning, check},
    FindingKind{"constant-condition", warning, check},
    FindingKind{"no-way-in", warning, check},
    FindingKind{"entry-outside-area", warning, check},
    FindingKind{"switch-to-own-level", warning, check},
    FindingKind{"areas-coincide", warning, check},
    FindingKind{"variants-alike", warning, check},
    FindingKind{"contents-missing", warning, check},
    FindingKind{"menu-without-way-out", warning, check},
    FindingKind{"next-past-the-end", warning, check},
    FindingKind{"speed-out-of-reach", warning, check},
    FindingKind{"placed-in-hidden", warning, check},
    FindingKind{"entry-unknown-there", warning, check},
    FindingKind{"set-never-saved", warning, check},
    FindingKind{"opens-itself", warning, check},
    FindingKind{"unused-definition", warning, check},
    FindingKind{"allowed-for-nothing", warning, check},
    FindingKind{"stood-in-gap", error, walk, Verdict::late, Carries::level | Carries::to},
    FindingKind{"placed-before-shown", error, walk, Verdict::late, Carries::level},
    FindingKind{"unveiled-too-early", error, walk, Verdict::late, Carries::level | Carries::to},
    FindingKind{"over-budget", error, walk | explore, Verdict::over_budget, Carries::device},
    FindingKind{"stuck", error, walk | explore, Verdict::stuck},
    FindingKind{"not-delivered", error, walk, Verdict::late, Carries::level},
    FindingKind{"unknown-there", error, walk, Verdict::late, Carries::level},
    FindingKind{"seen-gap", warning, walk, Verdict::late, Carries::level | Carries::to},
    FindingKind{"low-slack", warning, walk, Verdict::over_limit, Carries::level},
    FindingKind{"long-stall", warning, walk, Verdict::over_limit, Carries::to},
    FindingKind{"long-hitch", warning, walk, Verdict::over_limit},
    FindingKind{"low-headroom", warning, walk, Verdict::over_limit},
    FindingKind{"slow-frames", warning, walk | explore, Verdict::over_limit,
                Carries::level | Carries::to},
    FindingKind{"waits-for-slowest", warning, walk, Verdict::over_limit, Carries::to},
    FindingKind{"joined-too-late", warning, walk},
    FindingKind{"wait-too-long", warning, walk},
    FindingKind{"steps-abandoned", warning, walk | explore, none, Carries::level},
    FindingKind{"switch-refused", warning, walk, none, Carries::level},
    FindingKind{"variant-refused", warning, walk, none, Carries::level},
    FindingKind{"out-of-range", warning, walk},
    FindingKind{"expectation-failed", error, walk, Verdict::not_as_expected, Carries::at},
    FindingKind{"load-thrash", note, walk},
    FindingKind{"go-ended-early", note, walk},
    FindingKind{"rule-broken", error, walk | explore, Verdict::breaks_rule, Carries::rule},
    FindingKind{"dead-end", error, explore, none, Carries::at},
    FindingKind{"trap", error, explore},
    FindingKind{"saved-dead-end", error, explore},
    FindingKind{"gate-never-opens", error, explore},
    FindingKind{"frozen-for-good", error, explore},
    FindingKind{"veil-for-good", error, explore},
    FindingKind{"nothing-shown-here", error, explore, none, Carries::level},
    FindingKind{"rival-switches", error, explore, none, Carries::level},
    FindingKind{"unload-under-player", error, explore, none, Carries::level},
    FindingKind{"never-settles", error, explore},
    FindingKind{"order-matters", warning, explore},
    FindingKind{"level-never-shown", warning, explore, none, Carries::level},
    FindingKind{"trigger-never-fires", warning, explore},
    FindingKind{"item-never-pressed", warning, explore},
    FindingKind{"choice-never-taken", warning, explore},
    FindingKind{"condition-never-true", warning, explore},
    FindingKind{"beyond-edition", warning, walk | explore, none, Carries::level},
    FindingKind{"piles-up", warning, explore, none, Carries::level},
    FindingKind{"fact-lost", warning, explore},
    FindingKind{"fact-left-over", warning, explore},
    FindingKind{"unsaved-change", warning, explore},
    FindingKind{"unplanned-firing", error, verify},
    FindingKind{"firing-missing", error, verify},
    FindingKind{"unplanned-load", error, verify, none, Carries::level},
    FindingKind{"load-missing", error, verify, none, Carries::level},
    FindingKind{"unplanned-unload", error, verify, none, Carries::level},
    FindingKind{"unload-missing", error, verify, none, Carries::level},
    FindingKind{"later-than-planned", warning, verify},
    FindingKind{"earlier-than-planned", warning, verify},
    FindingKind{"order-differs", warning, verify},
    FindingKind{"fact-differs", warning, verify},
    FindingKind{"memory-differs", warning, verify},
    FindingKind{"not-logged", note, verify},
};

} // namespace

std::span<const FindingKind> finding_kinds() {
    return all_kinds;
}

const FindingKind* find_kind(std::string_view name) {
    const auto found = std::find_if(all_kinds.begin(), all_kinds.end(),
                                    [&](const FindingKind& kind) { return kind.name == name; });
    return found == all_kinds.end() ? nullptr : &*found;
}

const FindingKind& kind_of(std::string_view name) {
    const FindingKind* kind = find_kind(name);
    if (kind == nullptr) throw std::logic_error("no finding is called " + std::string(name));
    return *kind;
}

} // namespace hestrel::plan
