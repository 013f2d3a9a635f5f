// The machines of a session on one sheet (docs/model.md section 11).

#include "figure/session_figure.hpp"

#include "support/figures.hpp"
#include "support/session.hpp"

using namespace hestrel;

namespace {

std::string session_of(int machines) {
    std::string text = R"(veils: {dark: {}}
levels:
  hall: {memory: {all: 100}, entries: {door: a}}
  yard: {memory: {all: 200}, entries: {gate: c}}
waypoints: {a: [0, 0, 0], b: [20, 0, 0], c: [100, 0, 0]}
paths: [[a, b]]
triggers:
  out: {in: hall, box: {min: [10, -1, -1], max: [11, 1, 1]}, steps: [{switch: {to: yard, veil: dark}}]}
routes:
  together:
    start: {level: hall}
    machines:
      host: {device: fast, players: [p0]}
)";
    std::string players = "p0: {steps: [{go: b}]}";
    for (int i = 1; i < machines; ++i) {
        text += fmt::format("      m{0}: {{device: slow, players: [p{0}], delay: 300 ms}}\n", i);
        players += fmt::format(", p{}: {{steps: []}}", i);
    }
    return text + "    players: {" + players + "}\n";
}

bool has_text(const figure::Figure& figure, const std::string& text) {
    const auto& texts = figure.sheet.texts();
    return std::any_of(texts.begin(), texts.end(),
                       [&](const figure::Text& each) { return each.text == text; });
}

} // namespace

TEST_CASE("machines figure: one below the other, on one time axis, with orders on their way") {
    const tests::Session session(session_of(3));
    const figure::Figure figure = figure::session_figure(session.plan, session.machines);
    tests::check_sheet(figure);
    CHECK(has_text(figure, "host (fast) keeps the game"));
    CHECK(has_text(figure, "m1 (slow), 300 ms away"));
    CHECK(has_text(figure, "m2 (slow), 300 ms away"));
    CHECK(std::count_if(figure.sheet.texts().begin(), figure.sheet.texts().end(),
                        [](const figure::Text& each) { return each.text == "time (s)"; }) == 1);
    // Both are as slow: the first that was known last.
    CHECK(figure.description == "3 machines. host waits longest for m1: 2.60 s, until 7.61 s.");
}

TEST_CASE("machines figure: of many the first are drawn") {
    const tests::Session session(session_of(12));
    const figure::Figure figure = figure::session_figure(session.plan, session.machines);
    tests::check_sheet(figure);
    CHECK(figure.title == "Machines – plan, route together, the first 8 of 12");
}
