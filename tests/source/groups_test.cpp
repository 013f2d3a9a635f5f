// Groups of levels as a plan writes them, and what is wrong with them.

#include "edit/rename.hpp"
#include "plan/lists.hpp"
#include "plan/questions.hpp"
#include "support/plan_text.hpp"

using namespace hestrel;
using tests::findings_of;
using tests::Lines;
using tests::named;
using tests::names_of;
using tests::plan_from;

namespace {

/// Levels a to d, with these groups, and a trigger with these steps.
std::string grouped(const std::string& groups, const std::string& steps = "[]",
                    const std::string& more = "") {
    return "hestrel: 1\nlevels: {a: {entries: {e: w}}, b: {sublevels: {c: {}}}, d: {}}\ngroups: " +
           groups + "\ntriggers: {t: {when: veiled, steps: " + steps +
           "}}\nwaypoints: {w: [0, 0, 0]}\n" + more;
}

template <class What>
const What& step(const plan::Plan& plan, std::size_t number) {
    const plan::ListId list = plan.triggers[named(plan.triggers, "t")].steps;
    return std::get<What>(plan.lists[list].steps.at(number).what);
}

} // namespace

TEST_CASE("a group stands for its levels, in plan order, wherever levels are listed") {
    const plan::Plan plan = plan_from(
        grouped("{far: [d, c]}",
                "[{load: [a, far]}, {show: far}, {keep-only: [far]}, {wait: {shown: [far, a]}}, "
                "{switch: {to: a, with: far}}, {hide: far}, {unload: far}]",
                "gates: {g: {needs: [far]}}\nrules: [{never-together: far}]\n"
                "editions: {full: {levels: [a, far], parcels: [{core: [a]}, {rest: far}]}}\n"));
    CHECK(names_of(plan, step<plan::LoadStep>(plan, 0).levels) == Lines{"a", "c", "d"});
    CHECK(names_of(plan, step<plan::ShowStep>(plan, 1).levels) == Lines{"c", "d"});
    CHECK(names_of(plan, step<plan::KeepOnlyStep>(plan, 2).levels) == Lines{"c", "d"});
    CHECK(names_of(plan, step<plan::WaitStep>(plan, 3).levels) == Lines{"c", "d", "a"});
    CHECK(step<plan::WaitStep>(plan, 3).any_of.empty());
    CHECK(names_of(plan, step<plan::SwitchStep>(plan, 4).with) == Lines{"c", "d"});
    CHECK(names_of(plan, step<plan::HideStep>(plan, 5).levels) == Lines{"c", "d"});
    CHECK(names_of(plan, plan.gates[plan::GateId{std::size_t{0}}].needs) == Lines{"c", "d"});
    CHECK(names_of(plan, plan.rules[plan::RuleId{std::size_t{0}}].levels) == Lines{"c", "d"});
    const plan::Edition& full = plan.editions[plan::EditionId{std::size_t{0}}];
    CHECK(names_of(plan, full.levels) == Lines{"a", "c", "d"});
    CHECK(full.level_places.size() == 3);
    CHECK(names_of(plan, full.parcels[1].levels) == Lines{"c", "d"});
}

TEST_CASE("of variants a gate and a wait want any one, hide and unload take all") {
    const plan::Plan plan = plan_from(
        grouped("{place: {levels: [d, a], one-of: true}}",
                "[{wait: {ready: place}}, {hide: place}, {unload: [place, c]}]",
                "gates: {g: {needs: [place, c]}}\nrules: [{never: shown(place) and ready(c)}]\n"));
    CHECK(step<plan::WaitStep>(plan, 0).levels.empty());
    CHECK(step<plan::WaitStep>(plan, 0).any_of == std::vector{plan::GroupId{std::size_t{0}}});
    CHECK(names_of(plan, step<plan::HideStep>(plan, 1).levels) == Lines{"a", "d"});
    const plan::Gate& gate = plan.gates[plan::GateId{std::size_t{0}}];
    const plan::LevelId a = named(plan.levels, "a"), c = named(plan.levels, "c"),
                        d = named(plan.levels, "d");
    CHECK(gate.needs == std::vector{c});
    const auto open = [&](std::vector<plan::LevelId> shown) {
        return plan::is_open(plan, gate,
                             [&](plan::LevelId level) { return plan::contains(shown, level); });
    };
    CHECK_FALSE(open({c}));
    CHECK_FALSE(open({a, d}));
    CHECK(open({c, d}));
    CHECK(open({c, a}));
    CHECK(plan::lacking(plan, gate.needs, gate.any_of, [&](plan::LevelId) { return false; }) ==
          std::vector<std::string>{"c", "place"});
    CHECK(plan.levels[a].variants == plan.levels[d].variants);
    CHECK_FALSE(plan.levels[c].variants);
}

TEST_CASE("a trigger or menu may belong to several levels of one world") {
    const plan::Plan plan = plan_from("hestrel: 1\nlevels: {a: {}, b: {}}\ngroups: {both: [a, b]}\n"
                                      "triggers: {t: {in: [b, a, b], when: veiled, steps: "
                                      "[]}}\nmenus: {m: {in: both, items: {}}}\n");
    CHECK(names_of(plan, plan.triggers[plan::TriggerId{std::size_t{0}}].in) == Lines{"a", "b"});
    CHECK(names_of(plan, plan.menus[plan::MenuId{std::size_t{0}}].in) == Lines{"a", "b"});
    const plan::StepList& list = plan.lists[plan.triggers[plan::TriggerId{std::size_t{0}}].steps];
    CHECK(names_of(plan, plan::levels_of(list)) == Lines{"a", "b"});
    CHECK(findings_of("hestrel: 1\nlevels: {a: {}, b: {world: below}}\ntriggers: {t: {in: [a, b], "
                      "when: veiled, steps: []}}\n") ==
          Lines{"plan.yaml:3:20: error: a and b are in different worlds  [wrong-value]"});
}

TEST_CASE("what is wrong with a group is told where it stands") {
    const auto check = [](const std::string& groups, const std::string& finding,
                          const std::string& steps = "[]", const std::string& more = "") {
        CHECK(findings_of(grouped(groups, steps, more)) == Lines{finding});
    };
    check("{g: [a, nowhere]}",
          "plan.yaml:3:17: error: no level is called \"nowhere\"  [unknown-name]");
    check("{g: [a], h: [d, g]}",
          "plan.yaml:3:25: error: \"g\" is a group, and groups hold no groups  [wrong-value]");
    check("{g: [a, a]}", "plan.yaml:3:17: error: \"a\" stands here twice  [defined-twice]");
    check("{g: []}", "plan.yaml:3:13: error: a group needs levels  [wrong-value]");
    check("{a: [d]}", "plan.yaml:3:10: error: \"a\" is the name of a level, defined at "
                      "plan.yaml:2:10  [defined-twice]");
    check("{g: {levels: [a, d], one-of: true}, h: {levels: [c, a], one-of: true}}",
          "plan.yaml:3:57: error: a is one of g already, a place of its own  [wrong-value]");
    check("{g: {levels: [b, c], one-of: true}}",
          "plan.yaml:3:22: error: c is inside b: one can't be there instead of the other  "
          "[wrong-value]");
    check("{g: {levels: [a, d], one-of: true}}",
          "plan.yaml:4:45: error: \"g\" are variants of one place, of which one is there: name the "
          "one that is meant  [wrong-value]",
          "[{load: g}]");
    check("{g: {levels: [a, d], one-of: true}}",
          "plan.yaml:4:62: error: \"g\" are variants of one place, of which one is there: name the "
          "one that is meant  [wrong-value]",
          "[{switch: {to: b, with: [g]}}]");
    CHECK(findings_of("hestrel: 1\nlevels: {a: {persist: true}, b: {persist: true}}\ngroups: {g: "
                      "{levels: [a, b], one-of: true}}\n") ==
          Lines{"plan.yaml:3:10: error: of g one is there at a time, and a and b both come by "
                "themselves (with-parent, or persist)  [wrong-value]"});
}

TEST_CASE("who, of-each and return: what they take") {
    const plan::Plan plan = plan_from(
        grouped("{}",
                "[{open: m, who: firer}, {freeze: players, who: firer}, {return: {to: checkpoint, "
                "veil: v, with: [c], blocking: true}}, {place: {at: a.e, veil: v}}]",
                "menus: {m: {items: {}}}\nveils: {v: {min: 1 s}}\nfacts: {n: {initial: 0, of-each: "
                "player}}\n"));
    CHECK(step<plan::OpenStep>(plan, 0).who == plan::Who::firer);
    CHECK(step<plan::FreezeStep>(plan, 1).who == plan::Who::firer);
    const plan::SwitchStep& how = step<plan::ReturnStep>(plan, 2).how;
    CHECK(how.veil == plan::VeilId{std::size_t{0}});
    CHECK(names_of(plan, how.with) == Lines{"c"});
    CHECK(how.blocking);
    CHECK(plan.facts[plan::FactId{std::size_t{0}}].of_each);
    CHECK(findings_of(grouped("{}", "[{return: {veil: v}}]", "veils: {v: {}}\n")) ==
          Lines{"plan.yaml:4:47: error: a return needs the key \"to\"  [missing-key]"});
    CHECK(findings_of(grouped("{}", "[{save: all, who: firer}]")) ==
          Lines{"plan.yaml:4:55: error: save takes no who  [wrong-value]"});
}

TEST_CASE("a group is renamed wherever it is named, conditions included") {
    source::MemoryDisk disk;
    disk.files["plan.yaml"] =
        grouped("{place: {levels: [a, d], one-of: true}}",
                "[{wait: {until: shown(place)}}, {hide: [place]}]", "gates: {g: {needs: place}}\n");
    const auto renamed = edit::rename(disk, "plan.yaml", "place", "dock", "");
    REQUIRE(renamed.files.size() == 1);
    const std::string& text = renamed.files.front().second;
    CHECK(text.find("groups: {dock:") != std::string::npos);
    CHECK(text.find("shown(dock)") != std::string::npos);
    CHECK(text.find("hide: [dock]") != std::string::npos);
    CHECK(text.find("needs: dock") != std::string::npos);
    CHECK(text.find("place") == std::string::npos);
}
