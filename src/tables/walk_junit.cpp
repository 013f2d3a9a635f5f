#include "tables/walk_junit.hpp"

#include "plan/finding_kinds.hpp"
#include "plan/names.hpp"
#include "source/own_mark.hpp"
#include "source/xml.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace hestrel::tables {

namespace {

using source::xml_text;
using Outcome = walk::Expectation::Outcome;

/// "held", and so on; "not so" and what follows are failures.
std::string_view outcome_name(Outcome outcome) {
    static constexpr std::array<std::string_view, 5> names{"held", "not so", "cut short",
                                                           "never reached", "told"};
    return names.at(static_cast<std::size_t>(outcome));
}

std::string failure(std::string_view type, std::string_view message,
                    const std::vector<std::string>& lines) {
    std::string text =
        fmt::format("    <failure type=\"{}\" message=\"{}\">", xml_text(type), xml_text(message));
    for (const std::string& line : lines) text += xml_text(line) + "\n";
    return text + "</failure>\n";
}

class Case {
public:
    Case(const plan::Plan& plan, const walk::Record& record)
        : plan_(plan), record_(record), route_(plan.routes[record.route]) {}

    std::string text() {
        std::string inside = failures();
        failed_ = !inside.empty();
        inside += output();
        const std::string head = fmt::format(
            "  <testcase classname=\"{}\" name=\"{}\"", xml_text("hestrel.walk." + route_.name),
            xml_text(route_.name + " on " + walk::device_text(plan_, record_)));
        return inside.empty() ? head + "/>\n" : head + ">\n" + inside + "  </testcase>\n";
    }
    [[nodiscard]] bool failed() const { return failed_; }

private:
    /// Those of what was expected, in order, then the worst of the rest.
    std::string failures() {
        std::string text;
        std::vector<std::string> others;
        for (const plan::Finding& finding : record_.findings) {
            const std::string line = plan::finding_text(plan_, finding);
            const plan::Verdict verdict = plan::kind_of(finding.name).verdict;
            if (verdict == plan::Verdict::not_as_expected) {
                text += failure(finding.name, finding.message, {line});
            } else if (verdict != plan::Verdict::fine) {
                worst_ = std::max(worst_, verdict);
                others.push_back(line);
            }
        }
        if (record_.stuck) others.push_back(stuck_text(plan_, record_));
        if (worst_ == plan::Verdict::fine) return text;
        const std::string_view verdict = plan::name_of(worst_);
        return text + failure(verdict, fmt::format("the verdict is: {}", verdict), others);
    }

    /// What was expected, by its text and place.
    [[nodiscard]] std::string output() const {
        std::string lines;
        for (const walk::Expectation& each : record_.expectations) {
            const plan::RouteStep& step = route_.players[each.player].steps[each.step];
            const auto& expect = std::get<plan::ExpectStep>(step.what);
            lines += xml_text(fmt::format("{}: {}: {}", plan::place_text(plan_, step.place),
                                          outcome_name(each.outcome),
                                          each.outcome == Outcome::kept
                                              ? kept_text(plan_, each)
                                              : expectation_text(plan_, expect))) +
                     "\n";
        }
        if (lines.empty()) return {};
        return "    <system-out>" + lines + "</system-out>\n";
    }

    const plan::Plan& plan_;
    const walk::Record& record_;
    const plan::Route& route_;
    plan::Verdict worst_ = plan::Verdict::fine;
    bool failed_ = false;
};

} // namespace

std::string walks_junit(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    std::string cases;
    std::size_t failed = 0;
    for (const walk::Record& record : records) {
        Case one(plan, record);
        cases += one.text();
        if (one.failed()) ++failed;
    }
    return fmt::format("<?xml version=\"1.0\" encoding=\"UTF-8\"?> <!-- {} -->\n"
                       "<testsuite name=\"{}\" tests=\"{}\" failures=\"{}\">\n{}</testsuite>\n",
                       source::own_mark, xml_text(plan.name), records.size(), failed, cases);
}

} // namespace hestrel::tables
