// Changes of a plan as values to set.

#include "edit/settings.hpp"
#include "plan/names.hpp"
#include "support/plan_text.hpp"

using namespace hestrel;
using advise::Edit;
using plan::LevelId;
using plan::ListId;
using plan::TriggerId;
using tests::Lines;

namespace {

const std::string village_plan = R"(hestrel: 1
devices:
  box: {memory: {total: 1000}, read: {rate: 100}, frame: {fps: 60}}
  toy: {memory: {total: 1000}, read: {rate: 100}, frame: {fps: 60}}
levels:
  hall:
    memory: {texture: 10}
    arrive: [{show: [quay]}]
    sublevels: {nook: {memory: {texture: 5, audio: 1.5}, packed: 4, near: {load: 5, unload: 9}, area: [{min: [0, 0, 0], max: [1, 1, 1]}]}}
  quay: {memory: {texture: 20}, on: {toy: {packed: 3}}}
  cove: {memory: {texture: 20}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0], c: [20, 0, 0], x: {at: [0, 0, 0], world: below}, y: {at: [9, 0, 0], world: below}}
paths:
  - [a, b, c]
  - {from: x, to: y, via: [[3, 0, 0], [6, 0, 0]], speed: 2, one-way: true}
triggers:
  t:
    box: {min: [0, 0, 0], max: [1, 1, 1], turn: 30}
    steps:
      - load: [quay, cove]
      - choose: {one: [{show: [cove]}, {wait: 2 s}], two: []}
      - next: {}
  s: {sphere: {at: [0, 0, 0], radius: 2}, steps: []}
  u: {beyond: {axis: y, under: -3}, steps: []}
menus: {desk: {items: {go: {steps: [{switch: {to: quay}}]}}, after: {delay: 2 s, steps: [{show: [quay]}]}}}
veils: {dawn: {min: 1 s}}
)";

struct Setup {
    explicit Setup(const std::string& plan_text = village_plan) {
        disk.files["plan.yaml"] = plan_text;
        plan = tests::plan_from(plan_text);
    }
    [[nodiscard]] Lines said(const std::vector<Edit>& edits) {
        const edit::Settings settings(disk, plan, "plan.yaml", {});
        const auto values = settings.of(edits);
        if (!values) return {"none"};
        Lines lines;
        for (const auto& each : *values) lines.push_back(edit::set_text(each));
        // And they are values that a plan can have.
        const auto reading = source::read_plan(disk, "plan.yaml", {*values, nullptr});
        for (const auto& finding : reading.findings)
            FAIL_CHECK(plan::finding_text(reading.plan, finding));
        return lines;
    }
    [[nodiscard]] LevelId level(const std::string& name) const {
        return tests::named(plan.levels, name);
    }
    [[nodiscard]] ListId list(plan::OwnerKind owner, bool branch = false) const {
        for (const ListId id : plan.lists.ids()) {
            const bool fits =
                plan.lists[id].owner == owner && bool{plan.lists[id].parent} == branch;
            if (fits && !plan.lists[id].steps.empty()) return id;
        }
        return {};
    }
    source::MemoryDisk disk;
    plan::Plan plan;
};

constexpr plan::DeviceId box{std::size_t{0}}, toy{std::size_t{1}};

} // namespace

TEST_CASE("settings: shapes, near rules, veils and what persists") {
    Setup setup;
    CHECK(setup.said({advise::SetShape{TriggerId{std::size_t{0}},
                                       plan::Box{{-2.5, 0, 0}, {1, 1, 1}, 30}}}) ==
          Lines{"'triggers.t.box={min: [-2.5, 0, 0], max: [1, 1, 1], turn: 30}'"});
    CHECK(setup.said({advise::SetShape{TriggerId{std::size_t{1}}, plan::Sphere{{0, 0, 0}, 5}}}) ==
          Lines{"triggers.s.sphere.radius=5"});
    CHECK(setup.said({advise::SetShape{TriggerId{std::size_t{2}}, plan::Beyond{1, -1, false}}}) ==
          Lines{"triggers.u.beyond.under=-1"});
    CHECK(setup.said({advise::SetNear{setup.level("nook"), {8, 12}}}) ==
          Lines{"'levels.hall.sublevels.nook.near={load: 8, unload: 12}'"});
    CHECK(
        setup.said({advise::SetVeilMin{plan::VeilId{std::size_t{0}}, plan::milliseconds(2300)}}) ==
        Lines{"'veils.dawn.min=2.3 s'"});
    CHECK(setup.said({advise::SetPersist{setup.level("cove"), true}}) ==
          Lines{"levels.cove.persist=true"});
}

TEST_CASE("settings: lists of triggers, branches, items, menus and levels") {
    Setup setup;
    const ListId trigger = setup.list(plan::OwnerKind::trigger);
    const ListId branch = setup.list(plan::OwnerKind::trigger, true);
    const ListId item = setup.list(plan::OwnerKind::item);
    CHECK(setup.said({advise::SetNames{trigger, 0, {setup.level("cove"), setup.level("quay")}}}) ==
          Lines{"'triggers.t.steps.0.load=[cove, quay]'"});
    CHECK(setup.said({advise::SetPriority{branch, 0}}) ==
          Lines{"triggers.t.steps.1.choose.one.0.priority=now"});
    CHECK(setup.said({advise::SetWait{branch, 1, plan::seconds(3)}}) ==
          Lines{"'triggers.t.steps.1.choose.one.1.wait=3 s'"});
    CHECK(setup.said({advise::SetSwitchOrder{item, 0}}) ==
          Lines{"menus.desk.items.go.steps.0.switch.order=free-first"});
    CHECK(setup.said({advise::SetSwitchOrder{trigger, 2}}) ==
          Lines{"triggers.t.steps.2.next.order=free-first"});
    CHECK(setup.said({advise::SetPriority{setup.list(plan::OwnerKind::after), 0}}) ==
          Lines{"menus.desk.after.steps.0.priority=now"});
    CHECK(setup.said({advise::SetPriority{setup.list(plan::OwnerKind::arrive), 0}}) ==
          Lines{"levels.hall.arrive.0.priority=now"});
    CHECK(setup.said({advise::AddUnload{item, setup.level("cove")}}) ==
          Lines{"'menus.desk.items.go.steps.1={unload: [cove]}'"});
    CHECK(setup.said({advise::AddVeil{item, "go-veil", plan::milliseconds(1500)}}) ==
          Lines{"'veils.go-veil={min: 1.5 s}'",
                "'menus.desk.items.go.steps=[{veil: go-veil}, {switch: {to: quay}}, {unveil: "
                "go-veil}]'"});
}

TEST_CASE("settings: what is not there yet comes with the value") {
    std::string bare = village_plan;
    bare.erase(bare.find("veils: {dawn"));
    Setup setup(bare);
    CHECK(setup.said({advise::AddVeil{setup.list(plan::OwnerKind::item), "v", plan::seconds(1)}})
              .front() == "'veils={v: {min: 1 s}}'");
}

TEST_CASE("settings: sizes on devices, the rest of a level left as it is") {
    Setup setup;
    const plan::PoolId texture{std::size_t{0}}, audio{std::size_t{1}};
    // On one device something differs already; on the other it comes beside that.
    CHECK(setup.said(
              {advise::SetFigures{
                   setup.level("quay"), toy, {{texture, plan::mebibytes(15)}}, plan::mebibytes(2)},
               advise::SetFigures{
                   setup.level("quay"), box, {{texture, plan::mebibytes(18)}}, std::nullopt}}) ==
          Lines{"'levels.quay.on.toy.memory={texture: 15}'", "levels.quay.on.toy.packed=2",
                "'levels.quay.on.box={memory: {texture: 18}}'"});
    // On none: both in one value.
    CHECK(setup.said(
              {advise::SetFigures{setup.level("nook"),
                                  toy,
                                  {{texture, plan::mebibytes(4)}, {audio, plan::Bytes{3 << 19}}},
                                  plan::Bytes{11'177'820}},
               advise::SetFigures{
                   setup.level("nook"), box, {{texture, plan::mebibytes(3)}}, std::nullopt}}) ==
          Lines{"'levels.hall.sublevels.nook.on={toy: {memory: {texture: 4, audio: 1.5}, packed: "
                "10.66}, box: {memory: {texture: 3}}}'"});
}

TEST_CASE("settings: makers of a device, and what a list hides") {
    Setup setup;
    CHECK(setup.said({advise::SetMakers{box, 2}}) == Lines{"'devices.box.makers={workers: 2}'"});
    CHECK(setup.said({advise::AddHide{setup.list(plan::OwnerKind::item), setup.level("cove")}}) ==
          Lines{"'menus.desk.items.go.steps.1={hide: [cove]}'"});
    std::string text = village_plan;
    const std::string device = "box: {";
    text.replace(text.find(device), device.size(), device + "makers: {speed: 2}, ");
    Setup made(text);
    CHECK(made.said({advise::SetMakers{box, 3}}) == Lines{"devices.box.makers.workers=3"});
}

TEST_CASE("settings: no value wins over a size that was measured") {
    Setup setup;
    setup.plan.levels[setup.level("cove")].content.measured.push_back({});
    CHECK(setup.said({advise::SetFigures{setup.level("cove"), box, {}, plan::mebibytes(3)}}) ==
          Lines{"none"});
    // How long it is made is not measured.
    CHECK(setup.said({advise::SetFigures{
              setup.level("cove"), box, {}, std::nullopt, plan::milliseconds(1'200)}}) ==
          Lines{"'levels.cove.on={box: {make: 1.2 s}}'"});
}

TEST_CASE("settings: gates split paths, before or behind a corner, for who comes either way") {
    Setup setup;
    advise::AddGate gate;
    gate.gate = "quay-gate";
    gate.waypoint = "before-quay";
    gate.needs = setup.level("quay");
    gate.path = plan::PathId{std::size_t{1}}; // b to c
    gate.at = {15, 0, 0};
    CHECK(setup.said({gate}) == Lines{"'waypoints.before-quay=[15, 0, 0]'",
                                      "'gates={quay-gate: {needs: [quay]}}'", "'paths.0=[a, b]'",
                                      "'paths.2={from: b, to: before-quay}'",
                                      "'paths.3={from: before-quay, to: c, gate: quay-gate}'"});
    gate.path = plan::PathId{std::size_t{0}}; // a to b
    gate.at = {5, 0, 0};
    gate.forward = false;
    CHECK(setup.said({gate}) == Lines{"'waypoints.before-quay=[5, 0, 0]'",
                                      "'gates={quay-gate: {needs: [quay]}}'",
                                      "'paths.0={from: a, to: before-quay, gate: quay-gate}'",
                                      "'paths.2={from: before-quay, to: b}'", "'paths.3=[b, c]'"});
    gate.path = plan::PathId{std::size_t{2}};
    gate.at = {4, 0, 0};
    gate.corner = 1;
    gate.forward = true;
    CHECK(setup.said({gate}) ==
          Lines{"'waypoints.before-quay={at: [4, 0, 0], world: below}'",
                "'gates={quay-gate: {needs: [quay]}}'",
                "'paths.1={from: x, to: before-quay, via: [[3, 0, 0]], one-way: true, speed: 2}'",
                "'paths.2={from: before-quay, to: y, via: [[6, 0, 0]], gate: quay-gate, one-way: "
                "true, speed: 2}'"});
}

TEST_CASE("settings: what stands inside a level, in its own coordinates") {
    const std::string text = R"(hestrel: 1
lists: {ring: {steps: [{wait: 1 s}]}}
facts: {n: {initial: 0}}
levels:
  hall:
    origin: [100, 0, 0]
    turn: 90
    memory: {texture: 10}
    waypoints: {a: [0, 0, 0], b: [10, 0, 0]}
    paths: [[a, b]]
    triggers:
      t:
        box: {min: [0, 0, 0], max: [1, 1, 1], turn: 30}
        steps: [{do: ring}, {load: [hall]}, {show: [hall], when: n == 1}, {wait: 2 s}]
)";
    Setup setup(text);
    const TriggerId trigger{std::size_t{0}};
    const auto& there = std::get<plan::Box>(setup.plan.triggers[trigger].shape);
    CHECK(there.turn == 120);
    CHECK(setup.said({advise::SetShape{trigger, there}}) ==
          Lines{"'levels.hall.triggers.t.box={min: [0, 0, 0], max: [1, 1, 1], turn: 30}'"});
    // Steps are counted as they are written; what a named list shares can't be set for one use.
    const ListId list = setup.plan.triggers[trigger].steps;
    CHECK(setup.said({advise::SetPriority{list, 1, plan::Priority::now}}) ==
          Lines{"levels.hall.triggers.t.steps.1.priority=now"});
    CHECK(setup.said({advise::SetWait{list, 3, plan::Micros{3'000'000}}}) ==
          Lines{"'levels.hall.triggers.t.steps.3.wait=3 s'"});
    CHECK(setup.said({advise::SetWait{list, 0, plan::Micros{3'000'000}}}) == Lines{"none"});
    const auto& cases = std::get<plan::CaseStep>(setup.plan.lists[list].steps[2].what);
    CHECK(setup.said({advise::SetPriority{cases.cases.front().steps, 0, plan::Priority::now}}) ==
          Lines{"levels.hall.triggers.t.steps.2.priority=now"});
    CHECK(setup.said({advise::AddUnload{list, setup.level("hall")}}) ==
          Lines{"'levels.hall.triggers.t.steps.4={unload: [hall]}'"});
    // A gate in the middle of the path, with its waypoint, inside the level.
    CHECK(setup.said({advise::AddGate{"hall.door",
                                      "hall.before",
                                      setup.level("hall"),
                                      plan::PathId{std::size_t{0}},
                                      {100, 0, -4},
                                      0,
                                      true}}) ==
          Lines{"'levels.hall.waypoints.before=[4, 0, 0]'",
                "'levels.hall.gates={door: {needs: [hall]}}'",
                "'levels.hall.paths.0={from: a, to: before}'",
                "'levels.hall.paths.1={from: before, to: b, gate: door}'"});
}
