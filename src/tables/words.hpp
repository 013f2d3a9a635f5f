#pragma once
// Figures and things in words, the same in every table, file and message.

#include "plan/names.hpp"
#include "plan/plan.hpp"
#include "plan/texts.hpp"
#include "walk/record.hpp"
#include "walk/summary.hpp"

#include <optional>
#include <string>
#include <string_view>

namespace hestrel::tables {

/// Seconds with 6 decimals, exact: "12.500000".
std::string seconds_text(plan::Micros time);
/// The same, behind what stands in `text`.
void add_seconds(std::string& text, plan::Micros time);
/// The same, empty where there is none.
std::string seconds_text(const std::optional<plan::Micros>& time);
/// MiB with 3 decimals: "140.000".
std::string mebibytes_text(plan::Bytes size);
/// The same, behind what stands in `text`.
void add_mebibytes(std::string& text, plan::Bytes size);

/// Behind a line that stands for several: "; 3 times more"; empty where it stands for one.
std::string times_more(std::size_t times);

// The same for people.
using plan::counted;
using plan::grouped;
using plan::short_mebibytes;
using plan::short_memory;
using plan::short_time;

/// The name of the level or kit that a piece is.
const std::string& piece_name(const plan::Plan& plan, loading::PieceId piece);
/// "level" or "kit".
std::string_view piece_kind(const plan::Plan& plan, loading::PieceId piece);
/// What holds memory: a level's or kit's name, "staging of quay", "veil dawn", "players", "base".
std::string holder_name(const plan::Plan& plan, const loading::Holding& holding);
/// What an overrun is over: "total", or a pool's name.
const std::string& budget_name(const plan::Plan& plan, const loading::Overrun& overrun);

/// An event's word, what it is about, and whom, as in events.csv.
struct EventWords {
    std::string_view event;
    std::string subject;
    std::string detail;
    std::string player;
};
EventWords event_words(const plan::Plan& plan, const walk::Record& record,
                       const walk::Event& event);
std::string_view word_of(walk::EventKind kind);
/// The event that a word of events.csv stands for; nothing where it is none.
std::optional<walk::EventKind> event_kind(std::string_view word);
std::vector<std::string_view> all_event_words();

/// What began a transition: "trigger quay-approach", "item front-desk.begin", "near boats",
/// "far from boats".
std::string cause_text(const plan::Plan& plan, const walk::Transition& transition);
/// What brought a row of loads, and what is loaded: "near cells", "moor: 34 of 256 cells".
std::string cause_text(const plan::Plan& plan, const walk::LoadSummary& summary);
std::string level_text(const plan::Plan& plan, const walk::LoadSummary& summary);

/// A step of a route: "go quay", "press front-desk.begin", "pause 2.00 s", "until letters > 2".
std::string route_step_text(const plan::Plan& plan, const plan::RouteStep& step);
/// Values that are set, as a plan writes them: "has_pass: true, letters: +1".
std::string assignments_text(const plan::Plan& plan, const std::vector<plan::Assignment>& facts);
/// What an `expect` is: "letters == 3", "now"; with its time behind it: "shown(quay) within 2.00
/// s".
std::string expectation_text(const plan::Plan& plan, const plan::ExpectStep& expect);
/// A condition that holds what held there, to be kept: "at(quay-end) and shown(quay) and letters ==
/// 2 and not has_pass".
std::string kept_text(const plan::Plan& plan, const walk::Expectation& kept);

/// What keeps a player from its next step, where a walk is stuck there: "the menu is not open, and
/// nothing opens it".
/// The step need not stand in the route any more.
std::string hindrance_text(const plan::Plan& plan, const walk::Record& record,
                           const plan::RouteStep& step);
/// Why a walk is stuck, for a designer, with the place in the plan:
/// "trigger quay-approach (plan.yaml:12:5) waits for lantern-row to be shown, which nothing has
/// asked for".
std::string stuck_text(const plan::Plan& plan, const walk::Record& record);

} // namespace hestrel::tables
