#include "compare/difference.hpp"

#include <algorithm>
#include <cmath>

namespace hestrel::compare {

namespace {

/// What is less than this is taken as this where shares of it are told.
constexpr double least_time = 100'000;      // microseconds
constexpr double least_memory = 10'485'760; // bytes

std::int64_t worse_by(Measure measure, std::int64_t before, std::int64_t after) {
    return measure == Measure::slack ? before - after : after - before;
}

Change change_of(const FigureChange& figure, const Tolerance& tolerance) {
    if (figure.measure == Measure::situations || !figure.before || !figure.after)
        return Change::neither;
    const std::int64_t worse = worse_by(figure.measure, *figure.before, *figure.after);
    if (worse < 0) return Change::better;
    const double share = tolerance.share * std::abs(static_cast<double>(*figure.before));
    const std::int64_t amount = is_memory(figure.measure) ? tolerance.memory : tolerance.time;
    const bool tolerated = static_cast<double>(worse) <= share || worse <= amount;
    return tolerated ? Change::tolerated : Change::worse;
}

/// How bad a verdict is, by its name.
std::ptrdiff_t badness(const std::string& verdict) {
    const auto& all = plan::all_verdicts;
    return std::find_if(all.begin(), all.end(),
                        [&](walk::Verdict each) { return name_of(each) == verdict; }) -
           all.begin();
}

std::vector<VerdictChange> verdict_changes(const Metrics& before, const Metrics& after) {
    std::vector<VerdictChange> changes;
    for (const auto& [where, verdict] : after.verdicts) {
        const auto known = before.verdicts.find(where);
        if (known == before.verdicts.end()) {
            changes.push_back({where, "", verdict, Change::neither});
        } else if (known->second != verdict) {
            const bool worse = badness(verdict) > badness(known->second);
            changes.push_back(
                {where, known->second, verdict, worse ? Change::worse : Change::better});
        }
    }
    for (const auto& [where, verdict] : before.verdicts) {
        if (!after.verdicts.contains(where))
            changes.push_back({where, verdict, "", Change::neither});
    }
    std::stable_sort(changes.begin(), changes.end(),
                     [](const VerdictChange& one, const VerdictChange& other) {
                         const auto rank = [](const VerdictChange& each) {
                             const bool worse = each.change == Change::worse;
                             return std::pair{each.change, worse ? -badness(each.after) : 0};
                         };
                         return rank(one) < rank(other);
                     });
    return changes;
}

/// Whether one plan has no walk and no exploring of that place at all.
bool missing_place(const Metrics& figures, const Where& where) {
    if (!where.edition.empty())
        return std::none_of(figures.values.begin(), figures.values.end(), [&](const auto& each) {
            return each.first.first.edition == where.edition &&
                   (where.device.empty() || each.first.first.device == where.device);
        });
    Where walk;
    walk.route = where.route;
    walk.device = where.device;
    return !figures.verdicts.contains(walk);
}

std::vector<FigureChange> figure_changes(const Metrics& before, const Metrics& after,
                                         const Tolerance& tolerance, std::size_t& alike) {
    std::vector<FigureChange> changes;
    // How long a walk that is stuck took says nothing.
    const auto stuck = [](const Metrics& figures, const Where& where) {
        Where walk;
        walk.route = where.route;
        walk.device = where.device;
        const auto found = figures.verdicts.find(walk);
        return found != figures.verdicts.end() && found->second == name_of(walk::Verdict::stuck);
    };
    const auto add = [&](const auto& key, std::optional<std::int64_t> was,
                         std::optional<std::int64_t> is) {
        FigureChange change{key.first, key.second, was, is, Change::neither};
        if (!stuck(before, key.first) && !stuck(after, key.first))
            change.change = change_of(change, tolerance);
        changes.push_back(std::move(change));
    };
    for (const auto& [key, value] : after.values) {
        const auto known = before.values.find(key);
        if (known == before.values.end()) {
            // A walk that is new is told once, by its verdict.
            if (!missing_place(before, key.first)) add(key, std::nullopt, value);
        } else if (known->second != value) {
            add(key, known->second, value);
        } else {
            ++alike;
        }
    }
    for (const auto& [key, value] : before.values) {
        if (!after.values.contains(key) && !missing_place(after, key.first))
            add(key, value, std::nullopt);
    }
    std::stable_sort(changes.begin(), changes.end(),
                     [](const FigureChange& one, const FigureChange& other) {
                         const auto rank = [](const FigureChange& each) {
                             return std::pair{each.change, -std::abs(each.worsening())};
                         };
                         return rank(one) < rank(other);
                     });
    return changes;
}

/// Findings of one that the other has not. Of a walk that only one plan has, the verdict is told
/// and no more.
std::vector<NoticedNow> only_in(const Metrics& figures, const Metrics& other) {
    std::vector<NoticedNow> only;
    for (const auto& [what, severity] : figures.findings) {
        const bool placed = !what.where.route.empty() || !what.where.edition.empty();
        if (other.findings.contains(what) || (placed && missing_place(other, what.where))) continue;
        only.push_back({what, severity});
    }
    std::stable_sort(only.begin(), only.end(), [](const NoticedNow& one, const NoticedNow& two) {
        return one.severity < two.severity;
    });
    return only;
}

} // namespace

double FigureChange::worsening() const {
    if (!before || !after || measure == Measure::situations) return 0;
    const double least = is_memory(measure) ? least_memory : least_time;
    return static_cast<double>(worse_by(measure, *before, *after)) /
           std::max(least, std::abs(static_cast<double>(*before)));
}

bool Differences::worse() const {
    const bool in_figures =
        std::any_of(figures.begin(), figures.end(),
                    [](const FigureChange& each) { return each.change == Change::worse; });
    const bool in_verdicts =
        std::any_of(verdicts.begin(), verdicts.end(),
                    [](const VerdictChange& each) { return each.change == Change::worse; });
    const bool in_findings = std::any_of(found.begin(), found.end(), [](const NoticedNow& each) {
        return each.severity != plan::Severity::note;
    });
    return in_figures || in_verdicts || in_findings;
}

Differences differences(const Metrics& before, const Metrics& after, const Tolerance& tolerance) {
    Differences all;
    all.verdicts = verdict_changes(before, after);
    all.figures = figure_changes(before, after, tolerance, all.alike);
    all.found = only_in(after, before);
    all.gone = only_in(before, after);
    for (const auto& [carry, now] : after.carries) {
        const auto known = before.carries.find(carry);
        if (known != before.carries.end() && known->second != now)
            all.carries.push_back({carry, known->second, now});
    }
    for (const auto& [lead, level] : after.leads) {
        const auto known = before.leads.find(lead);
        if (known != before.leads.end() && known->second != level)
            all.leads.push_back({lead, known->second, level});
    }
    return all;
}

} // namespace hestrel::compare
