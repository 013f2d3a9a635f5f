#include "order/edition_order.hpp"

#include "edit/reorder.hpp"
#include "explore/first_moves.hpp"
#include "support/figures.hpp"
#include "tables/order_tables.hpp"

using namespace hestrel;
using tests::Lines;
using tests::names_of;

namespace {

const std::string game = std::string(tests::plain_device) + R"(
levels:
  desk: {memory: {t: 1}}
  hall: {memory: {t: 1}, kits: [wood], entries: {in: a}, arrive: [{load: [attic]}]}
  quay: {memory: {t: 1}, entries: {in: b}, sublevels: {shed: {memory: {t: 1}}}}
  attic: {memory: {t: 1}}
  moor: {memory: {t: 1}}
kits: {wood: {memory: {t: 1}, needs: [nails]}, nails: {memory: {t: 1}}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0]}
paths: [[a, b]]
triggers:
  late: {in: hall, box: {min: [8, -1, -1], max: [9, 1, 1]}, steps: [{show: [shed]}]}
menus:
  main: {in: desk, items: {on: {steps: [{next: {}}]}, third: {steps: [{switch: {to: {position: 2}}}]}}}
players: {one: {speeds: {walk: 1}}}
)";

order::EditionOrder order_of(const plan::Plan& plan, bool keep_positions = true) {
    std::vector<walk::Record> records;
    for (const plan::RouteId route : plan.routes.ids())
        records.push_back(walk::walk(plan, route, plan::DeviceId{0}));
    order::OrderOptions options;
    options.keep_positions = keep_positions;
    return order::order_edition(plan, plan::EditionId{0}, records, options);
}

} // namespace

TEST_CASE("what a level needs before it, what its transitions bring, and when") {
    const plan::Plan plan = tests::plan_from(
        game + "editions: {full: {levels: [desk, hall, shed, attic, quay, moor]}}\n"
               "routes: {r: {edition: full, start: {level: desk}, steps: [{press: main.on}, {go: "
               "b}]}}\n");
    const order::EditionOrder order = order_of(plan);
    const auto& hall = order.levels[1];
    CHECK(names_of(plan, hall.goes_to) == Lines{"quay", "shed", "attic"});
    REQUIRE(hall.needs.size() == 1);
    CHECK(plan.levels[hall.needs[0].needs].name == "attic");
    CHECK(hall.needs[0].why == order::LevelNeed::Why::arrive);
    CHECK(hall.kits.size() == 2);
    CHECK(hall.pinned); // next leads to it
    const auto& shed = order.levels[2];
    REQUIRE(shed.needs.size() == 1);
    CHECK(plan.levels[shed.needs[0].needs].name == "quay");
    CHECK(shed.pinned); // position 2
    REQUIRE(shed.asked);
    CHECK(shed.asked->at > plan::seconds(8));
    CHECK_FALSE(order.levels[5].asked);
    // desk, hall and shed are led to and stay; nothing else has a reason to move.
    CHECK(names_of(plan, order.proposed_levels()) ==
          Lines{"desk", "hall", "shed", "attic", "quay", "moor"});
    CHECK(order.moves.empty());

    const order::EditionOrder freely = order_of(plan, false);
    CHECK(names_of(plan, freely.proposed_levels()) ==
          Lines{"desk", "attic", "hall", "quay", "shed", "moor"});
    // What goes by position leads elsewhere then, and each such step says so.
    REQUIRE(freely.uses.size() == 2);
    CHECK(tables::use_text(plan, freely.uses[0]) == "next from desk");
    CHECK(plan.levels[freely.uses[0].today].name == "hall");
    CHECK(plan.levels[freely.uses[0].then].name == "attic");
    CHECK(tables::use_text(plan, freely.uses[1]) == "position 2");
    CHECK(plan.levels[freely.uses[1].today].name == "shed");
    CHECK(plan.levels[freely.uses[1].then].name == "hall");
    for (const order::Relocation& move : freely.moves) {
        const std::string reason = tables::move_reason(plan, freely, move);
        CHECK((reason == "hall needs it before" || reason == "shed needs it before" ||
               reason == "it needs quay before" || reason == "it needs attic before"));
    }
    CHECK(freely.moves.size() == 2);
}

TEST_CASE("steps that lead outside the edition, and circles of needs, are named with places") {
    const std::string plan_text = std::string(tests::plain_device) + R"(
levels:
  one: {memory: {t: 1}, arrive: [{load: [two]}]}
  two: {memory: {t: 1}, arrive: [{show: [three]}]}
  three: {memory: {t: 1}, arrive: [{load: [one]}]}
  four: {memory: {t: 1}}
menus: {m: {in: three, items: {on: {steps: [{next: {}}]}, off: {steps: [{switch: {to: four}}]}}}}
editions: {small: {levels: [one, two, three]}}
routes: {r: {edition: small, start: {level: one}, steps: []}}
)";
    const plan::Plan plan = tests::plan_from(plan_text);
    const order::EditionOrder order = order_of(plan);
    REQUIRE(order.not_shipped.size() == 1);
    CHECK(plan.levels[order.not_shipped[0].level].name == "four");
    REQUIRE(order.uses.size() == 1);
    CHECK_FALSE(order.uses[0].today);
    REQUIRE(order.circles.size() == 1);
    CHECK(tables::circle_text(plan, order.circles[0]) ==
          "one needs two before it (plan.yaml:7:34), two needs three before it "
          "(plan.yaml:8:34), three needs one before it (plan.yaml:9:36)");
    CHECK(order.moves.empty());
}

TEST_CASE("an order written keeps comments and layout, and the plan then says what was meant") {
    const auto written = [](const std::string& editions) {
        source::MemoryDisk disk;
        disk.files["plan.yaml"] =
            game + editions + "routes: {r: {start: {level: desk}, steps: []}} # the end\n";
        const source::PlanReading reading = source::read_plan(disk, "plan.yaml");
        REQUIRE(reading.findings.empty());
        const plan::Plan& plan = reading.plan;
        std::vector<plan::LevelId> order = plan.editions[plan::EditionId{0}].levels;
        std::rotate(order.begin(), order.begin() + 1, order.end());
        const auto changed = edit::reorder(disk, "plan.yaml", plan, {{plan::EditionId{0}, order}});
        REQUIRE(changed.size() == 1);
        CHECK(changed[0].first == "plan.yaml");
        return changed[0].second.substr(game.size(),
                                        changed[0].second.find("routes:") - game.size());
    };
    CHECK(written("editions:\n  full: {levels: [desk, 'hall',  quay]} # one line\n") ==
          "editions:\n  full: {levels: ['hall', quay,  desk]} # one line\n");
    CHECK(written("editions:\n  full:\n    levels:\n    # the start\n    - desk  # a menu\n"
                  "    - hall\n    - \"quay\"   # the lake\n") ==
          "editions:\n  full:\n    levels:\n    # the start\n    - hall\n    - \"quay\"   # the "
          "lake\n    - desk  # a menu\n");
    CHECK(written("editions:\n  full: {levels: [desk,\n    hall, # second\n    quay]}\n") ==
          "editions:\n  full: {levels: [hall,\n    quay, # second\n    desk]}\n");
    CHECK_THROWS_WITH(
        written("editions:\n  full: {levels: &all [desk, hall, quay]}\n  demo: {levels: *all}\n"),
        Catch::Contains("editions full and demo share one list of levels"));
}

TEST_CASE("the demo's editions come out sensible") {
    const plan::Plan plan = tests::demo_plan();
    const order::EditionOrder order = order_of(plan);
    // The ferry leads to position 6. From the Observatory, where players come on foot from the
    // Glacier Station that they were switched to, `next` leads to the Mail Tunnel.
    const auto proposed = names_of(plan, order.proposed_levels());
    CHECK(proposed[0] == "title");
    CHECK(proposed[6] == "far-shore");
    CHECK(proposed[7] == "glacier-station");
    CHECK(proposed[8] == "mail-tunnel");
    CHECK(proposed[19] == "credits");
    for (const order::PositionUse& use : order.uses) CHECK(use.today == use.then);
    CHECK(order.circles.empty());
    CHECK(order.not_shipped.empty());
}

TEST_CASE("what no route asks for is as early as what takes players as many moves") {
    // The route leaves from hall to quay. The menu of hall leads to shed, and that of shed to
    // attic.
    const plan::Plan plan = tests::plan_from(std::string(tests::plain_device) + R"(
levels:
  hall: {memory: {t: 1}}
  attic: {memory: {t: 1}}
  never: {memory: {t: 1}}
  shed: {memory: {t: 1}}
  quay: {memory: {t: 1}}
menus:
  m: {in: hall, items: {a: {steps: [{switch: {to: quay}}]}, b: {steps: [{switch: {to: shed}}]}}}
  n: {in: shed, items: {c: {steps: [{switch: {to: attic}}]}}}
editions: {small: {levels: [hall, attic, never, shed, quay]}}
routes: {r: {edition: small, start: {level: hall}, steps: [{press: m.a}]}}
)");
    explore::Options exploring;
    exploring.edition = plan::EditionId{0};
    explore::Explorer explorer(plan, exploring);
    explorer.run();
    const auto moves = explore::moves_until_there(explorer);
    const auto level = [](std::uint32_t number) { return plan::LevelId{number}; };
    CHECK(moves == std::map<plan::LevelId, std::uint32_t>{
                       {level(0), 0}, {level(1), 2}, {level(3), 1}, {level(4), 1}});

    std::vector<walk::Record> records{walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0})};
    order::OrderOptions options;
    options.moves_until_there = moves;
    const auto order = order::order_edition(plan, plan::EditionId{0}, records, options);
    // What nobody can have there goes with what stands before it.
    CHECK(names_of(plan, order.proposed_levels()) ==
          Lines{"hall", "shed", "quay", "attic", "never"});
    REQUIRE_FALSE(order.moves.empty());
    CHECK(tables::first_asked_text(order.levels[1]) == "after 2 moves");
    CHECK(tables::first_asked_text(order.levels[2]) == "never");
    CHECK(tables::move_reason(plan, order, order.moves[0]).find("after") != std::string::npos);
}
