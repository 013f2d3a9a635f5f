// The parts of the page about build order and advice: what stands in them, in which order.

#include "report/advice_section.hpp"
#include "report/html_table.hpp"
#include "report/order_section.hpp"
#include "source/xml.hpp"
#include "support/figures.hpp"
#include "support/pages.hpp"
#include "tables/advice_words.hpp"
#include "tables/order_tables.hpp"
#include "tables/words.hpp"

#include <sstream>

using namespace hestrel;
using tests::count;

namespace {

bool holds(const std::string& text, const std::string& part) {
    return text.find(part) != std::string::npos;
}

/// What a section says, for all editions and devices.
struct Ordered {
    explicit Ordered(plan::Plan of) : plan(std::move(of)), records(tests::walks_of(plan)) {
        for (const plan::EditionId edition : plan.editions.ids())
            orders.editions.push_back(order::order_edition(plan, edition, records, {}));
        for (const plan::DeviceId device : plan.devices.ids()) {
            const auto of_device = order::order_transitions(plan, device);
            orders.transitions.insert(orders.transitions.end(), of_device.begin(), of_device.end());
        }
    }
    [[nodiscard]] std::string section() const {
        return report::order_section(plan, records, orders);
    }

    plan::Plan plan;
    std::vector<walk::Record> records;
    report::Orders orders;
};

} // namespace

TEST_CASE("the page has a table for each edition: a row for each level, what moves, and why") {
    const Ordered demo(tests::demo_plan());
    const std::string section = demo.section();
    for (const order::EditionOrder& order : demo.orders.editions) {
        const std::string& name = demo.plan.editions[order.edition].name;
        CHECK(count(section, "<h3>Edition " + name + "</h3>") == 1);
        const std::size_t from = section.find("<h3>Edition " + name);
        const std::string part = section.substr(from, section.find("<h3>", from + 1) - from);
        const std::string table = part.substr(0, part.find("</table>"));
        CHECK(count(table, "<th scope=\"row\"") == order.levels.size());
        // A level that stays has no reason; one that moves has its own.
        std::size_t stay = 0;
        for (std::size_t i = 0; i < order.proposed.size(); ++i) stay += order.proposed[i] == i;
        CHECK(count(table, ">stays</td>") == stay);
        for (const order::Relocation& move : order.moves)
            CHECK(holds(table, source::xml_text(tables::move_reason(demo.plan, order, move))));
        // Rows keep today's order.
        std::size_t at = 0;
        for (const order::ListedLevel& listed : order.levels) {
            at = table.find(">" + demo.plan.levels[listed.level].name + "</td>", at);
            REQUIRE(at != std::string::npos);
        }
        CHECK(count(part, "<li>") ==
              order.uses.size() + order.not_shipped.size() + order.circles.size());
    }
    CHECK(count(section, "<h3>Inside transitions</h3>") == 1);
    CHECK(section.find("<h3>Inside transitions</h3>") > section.rfind("<h3>Edition "));
}

TEST_CASE("transitions that another order makes shorter are a table; where none is, it says so") {
    // At 100 MiB/s the list reads 4 s of tower before the 0.1 s of barn that it waits for;
    // each is shown a frame later.
    const auto game = [](const std::string& asked) {
        return tests::plan_from(std::string(tests::plain_device) + R"(
levels:
  hall: {memory: {t: 1}, entries: {in: a}}
  barn: {memory: {t: 10}}
  tower: {memory: {t: 400}}
waypoints: {a: [0, 0, 0]}
facts: {open: {initial: false}}
triggers: {door: {when: open, steps: [{show: [)" +
                                asked + R"(]}, {wait: {shown: barn}}]}}
players: {one: {speeds: {walk: 1}}}
editions: {full: {levels: [hall, barn, tower]}}
routes: {r: {edition: full, start: {level: hall, at: in}, steps: [{set: {open: true}}]}}
)");
    };
    const std::string section = Ordered(game("tower, barn")).section();
    const std::string table = section.substr(section.find("<h3>Inside transitions"));
    CHECK(count(table, "<th scope=\"row\"") == 1);
    CHECK(holds(table, ">trigger door</th>"));
    CHECK(holds(table, ">tower, barn</td>"));
    CHECK(holds(table, ">barn, tower</td>"));
    CHECK(holds(table, ">4.11 s</td>"));
    CHECK(holds(table, ">110 ms</td>"));
    CHECK(holds(Ordered(game("barn, tower")).section(), "<p>In none of 1 transition would"));
    // One level in one list has no other order.
    const Ordered plain(tests::plan_from(std::string(tests::plain_device) + R"(
levels: {hall: {memory: {t: 1}, entries: {in: a}}, barn: {memory: {t: 40}}}
waypoints: {a: [0, 0, 0], b: [40, 0, 0]}
paths: [[a, b]]
triggers: {door: {in: hall, box: {min: [19, -1, -1], max: [21, 1, 1]}, steps: [{show: [barn]}]}}
players: {one: {speeds: {walk: 1}}}
editions: {full: {levels: [hall, barn]}}
routes: {r: {edition: full, start: {level: hall, at: in}, steps: [{go: b}]}}
)"));
    CHECK(holds(plain.section(), "<p>In none of 1 transition would another order of asking let "
                                 "players go on sooner.</p>"));
    CHECK_FALSE(holds(plain.section(), "<ul")); // nothing goes by position
}

TEST_CASE("what goes by position, what is not shipped and circles are said with their places") {
    const Ordered wrong(tests::plan_from(std::string(tests::plain_device) + R"(
levels:
  desk: {memory: {t: 1}}
  hall: {memory: {t: 1}, entries: {in: a}, arrive: [{load: [barn]}]}
  barn: {memory: {t: 1}, arrive: [{load: [hall]}]}
  moor: {memory: {t: 1}}
waypoints: {a: [0, 0, 0]}
menus: {main: {in: desk, items: {on: {steps: [{next: {}}]}, off: {steps: [{show: [moor]}]}}}}
players: {one: {speeds: {walk: 1}}}
editions: {full: {levels: [desk, hall, barn]}}
routes: {r: {edition: full, start: {level: desk}, steps: [{press: main.on}]}}
)"));
    const std::string section = wrong.section();
    CHECK(holds(section, "<li>next from desk leads to hall <span class=\"place\">plan.yaml:"));
    CHECK(holds(section, "asks for moor, which this edition does not ship"));
    REQUIRE(wrong.orders.editions.front().circles.size() == 1);
    CHECK(holds(section, "<li>a circle: hall needs barn before it (plan.yaml:"));
}

TEST_CASE("figures of parcels stand with their edition; without editions there is no section") {
    Ordered demo(tests::demo_plan());
    demo.orders.figures = {{plan::EditionId{0}, "<svg><desc>of the first</desc></svg>"},
                           {plan::EditionId{1}, "<svg><desc>of the second</desc></svg>"}};
    const std::string section = demo.section();
    CHECK(count(section, "<figcaption>of the first</figcaption>") == 1);
    const std::size_t second = section.find("<figcaption>of the second");
    REQUIRE(second != std::string::npos);
    CHECK(section.find("<figcaption>of the first") < section.rfind("<h3>Edition "));
    CHECK(second > section.rfind("<h3>Edition "));
    demo.orders.editions.clear();
    CHECK(demo.section().empty());
}

TEST_CASE("advice is numbered through the section, each with its sum and what it makes worse") {
    const plan::Plan plan = tests::demo_plan();
    const report::Advice& advice = tests::advice_on_demo();
    const std::string section = report::advice_section(plan, advice);
    // Numbers go up by one from row to row: they are what --apply takes.
    std::size_t expected = 0;
    std::istringstream lines(section);
    std::size_t other_rows = 0; // of veils, and of who could keep sessions
    for (std::string line; std::getline(lines, line);) {
        if (!line.starts_with("<tr><th scope=\"row\"")) continue;
        const std::string head = line.substr(line.find('>', 4) + 1);
        if (head.front() < '0' || head.front() > '9') {
            ++other_rows;
            continue;
        }
        CHECK(std::stoul(head) == ++expected);
    }
    CHECK(expected == advice.advised.all().size());
    CHECK(other_rows == advice.advised.veils.size() + advice.advised.keepers.size());
    CHECK(advice.advised.keepers.size() == 9); // three could, on each of three devices
    const auto& keepers = advice.advised.keepers;
    auto harmful = static_cast<std::size_t>(
        std::count_if(keepers.begin(), keepers.end(), [](const advise::KeeperTrial& each) {
            return report::grade_of(each.verdict) == "bad";
        }));
    for (const advise::Advice* each : advice.advised.all()) {
        CHECK(holds(section, source::xml_text(tables::advice_text(plan, *each))));
        harmful += each->harms.empty() ? 0 : 1;
    }
    CHECK(count(section, "<td class=\"bad\"") == harmful);
    for (const advise::Problem& problem : advice.advised.problems) {
        CHECK(holds(section, "<h3>" +
                                 source::xml_text(tables::late_text(
                                     plan, advice.advised.loads[problem.load], problem)) +
                                 "</h3>"));
    }
    // What to set stands beside what it does.
    report::Advice with_settings = advice;
    with_settings.settings.front() = {source::parse_override("devices.handheld.read.rate=60")};
    CHECK(
        holds(report::advice_section(plan, with_settings), "--set devices.handheld.read.rate=60"));
}

TEST_CASE("a problem without a fix says so, and a plan without problems has no advice") {
    const plan::Plan plan = tests::demo_plan();
    report::Advice advice = tests::advice_on_demo();
    REQUIRE_FALSE(advice.advised.problems.empty());
    advice.advised.problems.resize(1);
    advice.advised.problems.front().fixes.clear();
    advice.advised.more_problems = 2;
    advice.advised.waits.clear();
    advice.advised.whole.clear();
    advice.advised.veils.clear();
    advice.advised.keepers.clear();
    std::string section = report::advice_section(plan, advice);
    CHECK(holds(section, "<p>Nothing was found that mends it.</p>"));
    CHECK(holds(section, "<p>2 loads more come too late; these are the worst.</p>"));
    CHECK_FALSE(holds(section, "<table"));
    advice.advised.problems.front().walked = false;
    section = report::advice_section(plan, advice);
    CHECK(holds(section, "That is reckoned: on a walk straight to it, it was not loaded by this."));
    CHECK(report::advice_section(plan, {}).empty());
}
