#include "report/page.hpp"

#include "figure/svg.hpp"
#include "report/explore_section.hpp"
#include "report/findings_section.hpp"
#include "report/html_table.hpp"
#include "report/replay.hpp"
#include "source/xml.hpp"
#include "support/figures.hpp"
#include "support/pages.hpp"
#include "tables/explore_tables.hpp"
#include "walk/casts.hpp"

using namespace hestrel;
using tests::advice_on;
using tests::count;

namespace {

/// A page without figures, of every route on every device.
std::string page_of(const plan::Plan& plan, std::vector<walk::Record>& records,
                    std::vector<plan::Finding> checked = {}, const report::Advice& advice = {}) {
    records = tests::walks_of(plan);
    report::Contents contents{plan, records, std::move(checked)};
    for (const std::span<const walk::Record> walk : walk::walks_in(records))
        contents.walks.push_back(report::packed(report::replay_walk(plan, walk)));
    contents.undrawn = "asked for none";
    contents.advice = advice;
    contents.pictures.resize(report::drawn_walks(records).size());
    contents.ran = {{"Plan", "<plan> & co"}};
    return report::page(contents);
}

} // namespace

TEST_CASE("the page of the demo plan says what is wrong first, and holds every walk") {
    const plan::Plan plan = tests::demo_plan();
    std::vector<walk::Record> records;
    const report::Advice& advice = tests::advice_on_demo();
    const std::string page = page_of(plan, records, {}, advice);
    CHECK(page.find("2 of 3 devices pass; handheld is over budget, not as expected, late and over "
                    "a limit.") != std::string::npos);
    CHECK(page.find(
              "<h3>trigger quay.keeper-stair brings lamp-room 1.04 s too late on handheld</h3>") !=
          std::string::npos);
    CHECK(page.find("let trigger quay.keeper-stair reach 7 m farther") != std::string::npos);
    CHECK(page.find("let trigger quay.ferry-boarding free the old levels first") !=
          std::string::npos);
    CHECK(count(page, "<article class=\"walk\"") == plan.devices.size()); // the worst of each
    CHECK(count(page, "class=\"walk-data\"") == walk::walks_in(records).size());
    CHECK(count(page, "<article class=\"card") == plan.devices.size());
    for (const walk::Record& record : records) {
        CHECK(count(page, "data-id=\"" + report::walk_id(plan, record) + "\"") == 1);
        CHECK(count(page, "href=\"" + report::replay_address(plan, record) + "\"") >= 1);
    }
    CHECK(page.find("-174 ms") != std::string::npos);
    CHECK(page.find("data-owner=\"coast\"") != std::string::npos); // who owns the lamp room
    CHECK(page.find("There are no figures: asked for none.") != std::string::npos);
    // Headings in order: none skips a level.
    int level = 0;
    for (std::size_t at = page.find("<h"); at != std::string::npos; at = page.find("<h", at + 1)) {
        const char digit = page[at + 2];
        if (digit < '1' || digit > '6') continue;
        CHECK(digit - '0' <= level + 1);
        level = digit - '0';
    }
    // Every column has a head, and every row.
    CHECK(count(page, "<th scope=\"col\"") > 20);
    CHECK(count(page, "<th scope=\"row\"") > records.size());
    std::vector<walk::Record> again;
    CHECK(page == page_of(plan, again, {}, advice));
}

TEST_CASE("nothing that a plan says is markup on the page") {
    const plan::Plan plan = tests::plan_from(tests::grid_plan(3, std::string(tests::nasty_name)));
    std::vector<walk::Record> records;
    std::vector<plan::Finding> checked(1);
    checked[0].name = "made-up";
    checked[0].message = "<i>\"it's\" {{name}} &amp; {{{css}}}</i>";
    const std::string page = page_of(plan, records, checked, advice_on(plan));
    CHECK(page.find("&lt;b&gt;&quot;&amp;amp;&lt;/title&gt;&lt;script&gt;alert(1)") !=
          std::string::npos);
    CHECK(page.find("`touch hacked` $(touch hacked)") != std::string::npos);
    CHECK(page.find("Ωμέγα 湖") != std::string::npos);
    CHECK(count(page, "<script>") == 1);
    CHECK(count(page, "<b>") == 0);
    CHECK(count(page, "<i>") == 0);
    CHECK(page.find("{{name}} &amp;amp; {{{css}}}") != std::string::npos);
    CHECK(page.find("&lt;plan&gt; &amp; co") != std::string::npos);
}

TEST_CASE("a finding belongs to the owner of the level that it is about, or is in") {
    const plan::Plan plan = tests::plan_from(std::string(tests::plain_device) + R"(
levels:
  hall: {memory: {t: 1}, owner: interiors, sublevels: {nook: {memory: {t: 1}}}}
  quay: {memory: {t: 1}}
triggers: {door: {in: nook, when: open, steps: []}, free: {when: open, steps: []}}
menus: {desk: {in: hall, items: {go: {steps: []}}}}
facts: {open: {initial: false, lifetime: level, of: nook}}
routes: {r: {start: {level: hall}, steps: [{set: {open: true}}]}}
)");
    const auto owner = [&](plan::ThingKind kind, std::uint32_t index) {
        plan::Finding finding;
        finding.about = plan::Thing{kind, index};
        return report::owner_of(plan, finding);
    };
    CHECK(owner(plan::ThingKind::level, 0) == "interiors");
    CHECK(owner(plan::ThingKind::level, 1) == "interiors"); // its parent's
    CHECK(owner(plan::ThingKind::level, 2) == "");
    CHECK(owner(plan::ThingKind::trigger, 0) == "interiors");
    CHECK(owner(plan::ThingKind::trigger, 1) == "");
    CHECK(owner(plan::ThingKind::item, 0) == "interiors");
    CHECK(owner(plan::ThingKind::fact, 0) == "interiors");
    CHECK(owner(plan::ThingKind::device, 0) == "");
    CHECK(report::owner_of(plan, {}) == "");
}

TEST_CASE("tables have heads for columns and rows, and say what they sort by") {
    report::HtmlTable table(
        {{"name"}, {"time", true, "large & small"}, {"peak", true, "large & small"}});
    table.row({{"a<b", "a<b", {}, "#x\"y"}, {"1.00 s", "1000000", "bad"}, {"-", ""}});
    CHECK(table.html("what \"it\" is") ==
          "<div class=\"scroll\"><table class=\"sorts\" aria-label=\"what &quot;it&quot; is\">\n"
          "<thead><tr><th scope=\"col\" data-column=\"0\" rowspan=\"2\" class=\"\">name</th>"
          "<th scope=\"colgroup\" colspan=\"2\">large &amp; small</th></tr><tr>"
          "<th scope=\"col\" data-column=\"1\" class=\"number first\">time</th>"
          "<th scope=\"col\" data-column=\"2\" class=\"number\">peak</th></tr></thead>\n<tbody>\n"
          "<tr><th scope=\"row\" class=\"\" data-sort=\"a&lt;b\"><a href=\"#x&quot;y\">a&lt;b</a>"
          "</th><td class=\"bad number first\" data-sort=\"1000000\">1.00 s</td>"
          "<td class=\" number\" data-sort=\"\">-</td></tr>\n</tbody></table></div>\n");
}

TEST_CASE("the page says what exploring found: the worst memory, each finding with its way") {
    const plan::Plan plan = tests::demo_plan();
    explore::Options options;
    options.edition = plan::EditionId{1};
    options.devices = {plan::DeviceId{0}};
    std::vector<report::ExploredEdition> editions(1);
    editions[0].explored = explore::explored(plan, options);
    const explore::Explored& explored = editions[0].explored;
    REQUIRE_FALSE(explored.found.empty());
    const std::string section = report::explore_section(editions);
    CHECK(section.find("<h3>Edition demo</h3>") == 0);
    CHECK(section.find(fmt::format("{} situations", explored.explorer->situations() / 1000)) ==
          std::string::npos); // with a comma
    CHECK(section.find(tables::grouped(explored.explorer->situations()) + " situations") !=
          std::string::npos);
    // A row for each finding; the budgets have a row each, named in their first cell.
    std::set<plan::PoolId> budgets;
    for (const explore::WorstUse& worst : explored.worst) budgets.insert(worst.pool);
    CHECK(count(section, "<th scope=\"row\"") ==
          explored.found.size() + budgets.size() + explored.frames.size());
    for (const explore::Found& found : explored.found) {
        CHECK(section.find(source::xml_text(found.finding.message)) != std::string::npos);
        if (found.way)
            CHECK(section.find(source::xml_text(
                      tables::way_text(*explored.explorer, *found.way))) != std::string::npos);
    }
    const explore::WorstUse* worst = explore::worst_of(explored.worst, 0, plan::PoolId{}, true);
    REQUIRE(worst != nullptr);
    CHECK(section.find(tables::short_mebibytes(worst->used)) != std::string::npos);
    // Cut off, it says so.
    options.most_situations = 5;
    editions[0].explored = explore::explored(plan, options);
    CHECK(report::explore_section(editions).find("cut off at a limit") != std::string::npos);
}
