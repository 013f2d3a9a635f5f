#pragma once
// What differs between the figures of two plans, worst first.

#include "compare/metrics.hpp"

#include <optional>
#include <vector>

namespace hestrel::compare {

/// How much worse something may become. What is within any of them is tolerated.
struct Tolerance {
    double share = 0;        ///< of what it was
    std::int64_t time = 0;   ///< microseconds
    std::int64_t memory = 0; ///< bytes
};

enum class Change : std::uint8_t { worse, tolerated, better, neither };

/// One figure that differs.
struct FigureChange {
    Where where;
    Measure measure = Measure::boot;
    std::optional<std::int64_t> before, after; ///< unset: that plan has no such figure
    Change change = Change::neither;

    /// How much worse, as a share of what it was; below 0: better.
    [[nodiscard]] double worsening() const;
};

/// A walk with another verdict.
struct VerdictChange {
    Where where;
    std::string before, after; ///< empty: not walked in that plan
    Change change = Change::neither;
};

/// A finding that only one of them has.
struct NoticedNow {
    Noticed what;
    plan::Severity severity = plan::Severity::error;
};

/// A position, `next` or `back` that both plans have, and that leads elsewhere now.
struct LeadChange {
    Lead lead;
    std::string before, after; ///< levels; empty: nowhere
};

/// A fact of which something else becomes now in a transition that both plans have.
struct CarryChange {
    Carry carry;
    std::set<flow::Carrying> before, after; ///< empty: it is not met with a value there
};

struct Differences {
    std::vector<VerdictChange> verdicts; ///< worst first
    /// Worse, tolerated, better, neither; of each what has changed most first.
    std::vector<FigureChange> figures;
    std::vector<NoticedNow> found; ///< findings that are new, errors first
    std::vector<NoticedNow> gone;
    std::vector<LeadChange> leads;    ///< neither better nor worse
    std::vector<CarryChange> carries; ///< neither better nor worse
    std::size_t alike = 0;            ///< figures that do not differ

    /// Worse beyond what is tolerated: a figure, a verdict, or a new error or warning.
    [[nodiscard]] bool worse() const;
};

/// What `after` has that `before` has not. A route or device that only one of them has is no better
/// and no worse, nor is a figure of a walk that is stuck in either.
Differences differences(const Metrics& before, const Metrics& after, const Tolerance& tolerance);

} // namespace hestrel::compare
