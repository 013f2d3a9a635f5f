#pragma once
// The registry of findings: every name that any engine reports, how bad it is, what it makes of a
// walk, who finds it and what it carries for machines (docs/model.md section 10). What a name means
// and what to do about it is docs/findings.md, which is part of the program (tables/finding_texts).

#include "plan/finding.hpp"

#include <span>
#include <string_view>

namespace hestrel::plan {

/// Who finds it; several may.
enum class FoundBy : std::uint8_t { reader = 1, check = 2, walk = 4, explore = 8, verify = 16 };
constexpr FoundBy operator|(FoundBy one, FoundBy other) {
    return static_cast<FoundBy>(static_cast<unsigned>(one) | static_cast<unsigned>(other));
}
constexpr bool includes(FoundBy all, FoundBy one) {
    return (static_cast<unsigned>(all) & static_cast<unsigned>(one)) != 0;
}

/// One name.
struct FindingKind {
    std::string_view name; ///< stable, kebab-case
    Severity severity = Severity::error;
    FoundBy by = FoundBy::check;
    Verdict verdict = Verdict::fine; ///< what one makes of a walk
    /// Fields of `Finding` that each one carries, besides those of its engine: a walk's carry
    /// `device`, `route` and `from`, those of exploring an edition `edition`.
    Carries carries = Carries::nothing;
};

/// All of them, in the order of docs/findings.md.
std::span<const FindingKind> finding_kinds();
/// Null where nothing is called so.
const FindingKind* find_kind(std::string_view name);
/// Throws std::logic_error where nothing is called so.
const FindingKind& kind_of(std::string_view name);

} // namespace hestrel::plan
