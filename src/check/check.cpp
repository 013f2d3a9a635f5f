#include "check/check.hpp"

#include "check/context.hpp"

#include <algorithm>
#include <array>

namespace hestrel::check {

namespace {

constexpr plan::Severity error = plan::Severity::error;
constexpr plan::Severity warning = plan::Severity::warning;

constexpr std::array all_rules{
    Rule{"target-not-in-edition", error, "A step needs a level that an edition does not ship.",
         "In that edition the step has nothing to go to. Add the level to the edition's `levels`, "
         "or keep players of that\n"
         "edition from getting here.\n\n    editions: {demo: {levels: [title, post-hall, quay]}}\n",
         &target_not_in_edition},
    Rule{"position-out-of-edition", error,
         "A switch goes to a position that an edition does not have.",
         "Positions count from 0. Name the level instead: a name does not shift when the order "
         "changes.\n\n"
         "    - switch: {to: observatory}      # rather than {to: {position: 7}}\n",
         &position_out_of_edition},
    Rule{"position-unclear", error,
         "next or back from a level that is listed twice, or no edition.",
         "Name the level to go to, or list each level once.\n\n    editions: {full: {levels: "
         "[title, post-hall, quay]}}\n",
         &position_unclear},
    Rule{"trigger-fits-nobody", error, "A trigger is for players with a tag that no player has.",
         "Give a kind of player the tag, or take `for` away.\n\n    players: {carrier: {tags: "
         "[carrier]}}\n",
         &trigger_fits_nobody},
    Rule{"trigger-brings-own-level", error,
         "A trigger is in a level that only the trigger itself shows.",
         "A trigger is live only while its level is shown, so this one never fires. Put it into "
         "the level that players\n"
         "come from.\n\n    quay-approach: {in: post-hall, steps: [{show: [quay]}]}\n",
         &trigger_brings_own_level},
    Rule{"gate-without-load", error, "A gate needs a level that nothing ever asks for.",
         "Load and show the level before players reach the gate.\n\n    gates: {quay-door: {needs: "
         "[quay]}}\n",
         &gate_without_load},
    Rule{"steps-after-own-unload", error, "Steps stand behind one that unloads their own level.",
         "With its level the list goes too. Put the unloading last, or the list into a level that "
         "stays.\n\n"
         "    steps: [{load: [quay]}, {unload: [post-hall]}]\n",
         &steps_after_own_unload},
    Rule{"leave-waits", error, "A leave step waits.",
         "The level is going, and nothing waits for it. Do it in the `arrive` of what comes "
         "next.\n\n"
         "    leave: [{set: {hud: false}}]\n",
         &leave_waits},
    Rule{"start-parcel-incomplete", error, "The first parcel lacks levels that play begins with.",
         "Play begins when the first parcel is there. Put the first level and all that comes with "
         "it into that parcel.\n\n"
         "    parcels: [{core: [title, post-hall]}, {coast: [quay]}]\n",
         &start_parcel_incomplete},
    Rule{"base-over-budget", error, "A device's base alone is over its memory budget.",
         "Nothing can load then. Check both figures.\n\n    memory: {total: 1400, base: 300}\n",
         &base_over_budget},
    Rule{"level-over-budget", error,
         "A level alone, with its kits, is over the memory of a device.",
         "It can't be shown there in any company. Make it lighter on that device, or split it.\n\n"
         "    on: {handheld: {memory: {texture: 96}}}\n",
         &level_over_budget},
    Rule{"return-without-mark", error, "Steps return to a checkpoint, and nothing ever marks one.",
         "Mark a checkpoint where players should come back to.\n\n    - mark: glacier.platform\n",
         &return_without_mark},

    Rule{"loaded-never-shown", warning, "A level is loaded, and nothing ever shows it.",
         "`load` only brings a level into memory. Show it, or do not load it.\n\n    steps: "
         "[{load: [quay]}, {show: [quay]}]\n",
         &loaded_never_shown},
    Rule{"never-unloaded", warning, "A level is loaded, and nothing ever unloads it.",
         "Its memory stays taken for good. Unload it, or say `persist: true` if it is meant to "
         "stay.\n\n"
         "    steps: [{unload: [sorting-room]}]\n",
         &never_unloaded},
    Rule{"persisting-unloaded", warning, "A step unloads a level that is meant to persist.",
         "An `unload` that names it wins over `persist`. Take one of the two away.\n\n    sky: "
         "{persist: true}\n",
         &persisting_unloaded},
    Rule{"trigger-off-paths", warning, "No path leads through a trigger.",
         "Players move along paths, so it never fires. Move it onto one, or add the path.\n\n"
         "    paths: [[hall-door, hall-centre]]\n",
         &trigger_off_paths},
    Rule{"trigger-too-thin", warning, "At top speed a player is through it within one frame.",
         "A game that looks once a frame would miss it. Make it deeper along the way.\n\n"
         "    box: {min: [44, 0, 10], max: [48, 4, 30]}\n",
         &trigger_too_thin},
    Rule{"switch-without-veil", warning, "A switch has no veil.",
         "Players see levels vanish and appear. Give the switch a veil, or raise one before it.\n\n"
         "    - switch: {to: post-hall, veil: dawn}\n",
         &switch_without_veil},
    Rule{"veil-left-up", warning, "A veil is raised, and nothing takes it down.",
         "Players see nothing from then on.\n\n    steps: [{veil: lift}, {wait: {shown: [quay]}}, "
         "{unveil: lift}]\n",
         &veil_left_up},
    Rule{"freeze-without-thaw", warning, "Players are frozen, and nothing ever thaws them.",
         "They stand still for good.\n\n    steps: [{freeze: players}, {wait: 2 s}, {thaw: "
         "players}]\n",
         &freeze_without_thaw},
    Rule{"empty-level", warning, "A level holds nothing.",
         "It has no memory, kits or sublevels. Give its sizes, or take it out.\n\n    quay: "
         "{memory: {texture: 210}}\n",
         &empty_level},
    Rule{"size-drift", warning, "A measured size is over a tenth off the plan's own.",
         "The measured one is used. Bring the plan up to date, so that it means what it says.\n\n"
         "    sizes: [measured.csv]\n",
         &size_drift},
    Rule{"unbounded-fact", warning, "Steps add to a number that has no range.",
         "It can grow for ever, and exploring would never end. Give it a range.\n\n"
         "    letters: {initial: 0, range: [0, 12]}\n",
         &unbounded_fact},
    Rule{"restore-without-save", warning, "Steps restore, and nothing ever saves.",
         "The saved store stays empty.\n\n    - save: all\n", &restore_without_save},
    Rule{"saved-never-set", warning, "A fact is saved, and nothing ever sets it.",
         "It keeps its initial value for good.\n\n    - set: {saved_round: +1}\n",
         &saved_never_set},
    Rule{"fact-never-read", warning, "No condition reads a fact.",
         "Nothing depends on it. Use it, or take it out.\n\n    when: has_pass\n",
         &fact_never_read},
    Rule{"constant-condition", warning, "A condition names nothing that could change.",
         "It holds always or never. Was a fact meant?\n\n    when: letters >= 3\n",
         &constant_condition},
    Rule{"unused-definition", warning, "Something is defined, and nothing uses it.",
         "Often a name that is spelled differently elsewhere. Use it, or take it out.\n\n    kits: "
         "[brass-fittings]\n",
         &unused_definition},
    Rule{"allowed-for-nothing", warning, "`allow` silences a finding that is not there.",
         "What it was there for has been mended, or its name is wrong. Take it out.\n\n"
         "    allow: {switch-without-veil: the credits begin on black}\n",
         nullptr},
};

/// Leaves out what is allowed; what is allowed for nothing is added.
std::vector<plan::Finding> without_allowed(const plan::Plan& plan,
                                           std::vector<plan::Finding> findings) {
    std::vector<bool> used(plan.allowed.size());
    std::erase_if(findings, [&](const plan::Finding& finding) {
        bool silenced = false;
        for (std::size_t i = 0; i < plan.allowed.size(); ++i) {
            if (plan.allowed[i].finding != finding.name || plan.allowed[i].thing != finding.about)
                continue;
            used[i] = true;
            silenced = true;
        }
        return silenced;
    });
    for (std::size_t i = 0; i < plan.allowed.size(); ++i) {
        const plan::Allowed& allowed = plan.allowed[i];
        const bool judged_here =
            std::any_of(all_rules.begin(), all_rules.end(),
                        [&](const Rule& rule) { return rule.name == allowed.finding; });
        if (used[i] || !judged_here) continue; // a walk or exploring may find it
        findings.push_back({warning, "allowed-for-nothing", allowed.place,
                            "there is no " + allowed.finding + " here to allow", allowed.thing});
    }
    return findings;
}

} // namespace

std::span<const Rule> rules() {
    return all_rules;
}

std::vector<plan::Finding> check(const plan::Plan& plan) {
    const Context context(plan);
    Report report;
    for (const Rule& rule : all_rules) {
        if (rule.look == nullptr) continue;
        report.set_rule(rule);
        rule.look(context, report);
    }
    std::vector<plan::Finding> findings = without_allowed(plan, std::move(report.findings()));
    std::stable_sort(findings.begin(), findings.end(),
                     [](const auto& one, const auto& other) { return one.place < other.place; });
    return findings;
}

} // namespace hestrel::check
