// The table of rules.

#include "check/check.hpp"

#include "check/report.hpp"

#include <array>

namespace hestrel::check {

namespace {

constexpr plan::Severity error = plan::Severity::error;
constexpr plan::Severity warning = plan::Severity::warning;
constexpr Evidence by_presence = Evidence::presence;
constexpr Evidence by_absence = Evidence::absence;

constexpr std::array all_rules{
    // What stands in the way of understanding the plan; the reader finds these.
    Rule{{"broken-yaml", error, "A file is no YAML that a plan can be written in.",
          "Often a missing blank behind a colon, a tab, or a bracket that is not closed.\n\n    "
          "quay: "
          "{memory: {texture: 210}}\n"},
         by_presence,
         nullptr},
    Rule{
        {"unknown-key", error, "A key means nothing where it stands.",
         "Often misspelled, or one level too deep. `hestrel schema --markdown` lists every key.\n\n"
         "    quay: {persist: true}          # rather than persists\n"},
        by_presence,
        nullptr},
    Rule{{"missing-key", error, "A key that must be there is not.",
          "Add it.\n\n    read: {rate: 90}\n"},
         by_presence,
         nullptr},
    Rule{{"unknown-name", error, "A name is used that nothing defines.",
          "Names are case-sensitive, so a difference only in capitals is said.\n\n    - load: "
          "[quay]        "
          "          # rather than [Quay]\n"},
         by_presence,
         nullptr},
    Rule{{"defined-twice", error, "A name is defined twice; both places are shown.",
          "Rename one with `hestrel rename`. Levels and sublevels share one set of names.\n\n"
          "    levels: {quay: {sublevels: {quay-shed: {}}}}\n"},
         by_presence,
         nullptr},
    Rule{{"cycle", error, "Things need each other in a circle.",
          "Kits that need each other, or a file that is included twice. Take one need away.\n\n"
          "    kits: {brass-fittings: {needs: [common]}}\n"},
         by_presence,
         nullptr},
    Rule{{"wrong-value", error, "A value is of the wrong kind, or out of its bounds.",
          "The message says what is expected. Quantities have units, or are in the base unit.\n\n"
          "    read: {rate: 90 MiB/s, latency: 8 ms}\n"},
         by_presence,
         nullptr},
    Rule{{"path-across-worlds", error, "A path leads from one world into another.",
          "Coordinates of different worlds have nothing to do with each other. Place players there "
          "by "
          "a step.\n\n    - place: {at: mail-tunnel.mouth}\n"},
         by_presence,
         nullptr},
    Rule{{"target-not-in-edition", error, "A step needs a level that an edition does not ship.",
          "In that edition the step has nothing to go to. Add the level to the edition's `levels`, "
          "or keep players of that\n"
          "edition from getting here.\n\n    editions: {demo: {levels: [title, post-hall, "
          "quay]}}\n"},
         by_absence,
         &target_not_in_edition},
    Rule{{"position-out-of-edition", error,
          "A switch goes to a position that an edition does not have.",
          "Positions count from 0. Name the level instead: a name does not shift when the order "
          "changes.\n\n"
          "    - switch: {to: observatory}      # rather than {to: {position: 7}}\n"},
         by_absence,
         &position_out_of_edition},
    Rule{{"position-unclear", error,
          "next or back from a level that is listed twice, or no edition.",
          "Name the level to go to, or list each level once.\n\n    editions: {full: {levels: "
          "[title, post-hall, quay]}}\n"},
         by_presence,
         &position_unclear},
    Rule{{"trigger-fits-nobody", error, "A trigger is for players with a tag that no player has.",
          "Give a kind of player the tag, or take `for` away.\n\n    players: {carrier: {tags: "
          "[carrier]}}\n"},
         by_absence,
         &trigger_fits_nobody},
    Rule{{"trigger-brings-own-level", error,
          "A trigger is in a level that only the trigger itself shows.",
          "A trigger is live only while its level is shown, so this one never fires. Put it into "
          "the level that players\n"
          "come from.\n\n    quay-approach: {in: post-hall, steps: [{show: [quay]}]}\n"},
         by_absence,
         &trigger_brings_own_level},
    Rule{
        {"gate-without-load", error, "A gate needs a level that nothing ever asks for.",
         "Load and show the level before players reach the gate.\n\n    gates: {quay-door: {needs: "
         "[quay]}}\n"},
        by_absence,
        &gate_without_load},
    Rule{{"steps-after-own-unload", error, "Steps stand behind one that unloads their own level.",
          "With its level the list goes too. Put the unloading last, or the list into a level that "
          "stays.\n\n"
          "    steps: [{load: [quay]}, {unload: [post-hall]}]\n"},
         by_presence,
         &steps_after_own_unload},
    Rule{{"leave-waits", error, "A leave step waits.",
          "The level is going, and nothing waits for it. Do it in the `arrive` of what comes "
          "next.\n\n"
          "    leave: [{set: {hud: false}}]\n"},
         by_presence,
         &leave_waits},
    Rule{{"start-parcel-incomplete", error, "The first parcel lacks levels that play begins with.",
          "Play begins when the first parcel is there. Put the first level and all that comes with "
          "it into that parcel.\n\n"
          "    parcels: [{core: [title, post-hall]}, {coast: [quay]}]\n"},
         by_absence,
         &start_parcel_incomplete},
    Rule{{"base-over-budget", error, "A device's base alone is over its memory budget.",
          "Nothing can load then. Check both figures.\n\n    memory: {total: 1400, base: 300}\n"},
         by_presence,
         &base_over_budget},
    Rule{{"level-over-budget", error,
          "A level alone, with its kits, is over the memory of a device.",
          "It can't be shown there in any company. Make it lighter on that device, or split it.\n\n"
          "    on: {handheld: {memory: {texture: 96}}}\n"},
         by_presence,
         &level_over_budget},
    Rule{{"return-without-mark", error, "Steps return to a checkpoint, and nothing ever marks one.",
          "Mark a checkpoint where players should come back to.\n\n    - mark: glacier.platform\n"},
         by_absence,
         &return_without_mark},

    Rule{{"loaded-never-shown", warning, "A level is loaded, and nothing ever shows it.",
          "`load` only brings a level into memory. Show it, or do not load it.\n\n    steps: "
          "[{load: [quay]}, {show: [quay]}]\n"},
         by_absence,
         &loaded_never_shown},
    Rule{{"never-unloaded", warning, "A level is loaded, and nothing ever unloads it.",
          "Its memory stays taken for good. Unload it, or say `persist: true` if it is meant to "
          "stay.\n\n"
          "    steps: [{unload: [sorting-room]}]\n"},
         by_absence,
         &never_unloaded},
    Rule{{"persisting-unloaded", warning, "A step unloads a level that is meant to persist.",
          "An `unload` that names it wins over `persist`. Take one of the two away.\n\n    sky: "
          "{persist: true}\n"},
         by_presence,
         &persisting_unloaded},
    Rule{{"trigger-off-paths", warning, "No path leads through a trigger.",
          "Players move along paths, so it never fires. Move it onto one, or add the path.\n\n"
          "    paths: [[hall-door, hall-centre]]\n"},
         by_absence,
         &trigger_off_paths},
    Rule{{"trigger-too-thin", warning, "At top speed a player is through it within one frame.",
          "A game that looks once a frame would miss it. Make it deeper along the way.\n\n"
          "    box: {min: [44, 0, 10], max: [48, 4, 30]}\n"},
         by_presence,
         &trigger_too_thin},
    Rule{{"way-around", warning, "A way into a level misses what loads it.",
          "Players who come that way see nothing there. Widen the trigger across the way, add one "
          "on "
          "it, or gate it.\n\n"
          "    paths: [{from: landing, to: quay-end, gate: quay-door}]\n"},
         by_absence,
         &way_around},
    Rule{{"switch-before-gate", warning,
          "A trigger switches away players who have not reached a gate.",
          "The gate never matters. Move the trigger behind it.\n\n"
          "    gates: {platform-door: {needs: [glacier-station]}}\n"},
         by_absence,
         &switch_before_gate},
    Rule{{"arrival-in-trigger", warning, "Players arrive inside a trigger.",
          "It fires at once; where that leads back here, it never ends, and is an error. Move the "
          "entry out of the shape,\nor give the trigger a condition.\n\n"
          "    entries: {landing: landing}    # a waypoint outside the ferry's trigger\n"},
         by_presence,
         &arrival_in_trigger},
    Rule{{"catch-too-small", warning,
          "A shape that catches players who fall is smaller than the level above.",
          "Who falls beyond its edge falls for ever. `beyond` has no edge.\n\n"
          "    beyond: {axis: y, under: -40}\n"},
         by_presence,
         &catch_too_small},
    Rule{{"trigger-too-late", warning, "A level is needed before its trigger can have loaded it.",
          "Even with nothing else to load. Move the trigger out, make the way longer, gate it, or "
          "make the level lighter.\n\n"
          "    stair-foot: {box: {min: [30, 0, 10], max: [34, 4, 30]}}\n"},
         by_presence,
         &trigger_too_late},
    Rule{{"fixed-wait-for-load", warning, "A fixed time stands where a wait for a load should.",
          "It is too short on a slow device (an error then), and too long on a fast one.\n\n"
          "    - wait: {ready: [quay]}        # rather than wait: 2 s\n"},
         by_presence,
         &fixed_wait_for_load},
    Rule{
        {"switch-without-veil", warning, "A switch has no veil.",
         "Players see levels vanish and appear. Give the switch a veil, or raise one before it.\n\n"
         "    - switch: {to: post-hall, veil: dawn}\n"},
        by_absence,
        &switch_without_veil},
    Rule{{"veil-left-up", warning, "A veil is raised, and nothing takes it down.",
          "Players see nothing from then on.\n\n    steps: [{veil: lift}, {wait: {shown: [quay]}}, "
          "{unveil: lift}]\n"},
         by_absence,
         &veil_left_up},
    Rule{{"freeze-without-thaw", warning, "Players are frozen, and nothing ever thaws them.",
          "They stand still for good.\n\n    steps: [{freeze: players}, {wait: 2 s}, {thaw: "
          "players}]\n"},
         by_absence,
         &freeze_without_thaw},
    Rule{{"items-alike", warning, "Two items of a menu do the same.",
          "Often copied, and the target forgotten.\n\n"
          "    items: {north: {steps: [{set: {village: north}}]}, south: {steps: [{set: {village: "
          "south}}]}}\n"},
         by_absence,
         &items_alike},
    Rule{{"empty-level", warning, "A level holds nothing.",
          "It has no memory, kits or sublevels. Give its sizes, or take it out.\n\n    quay: "
          "{memory: {texture: 210}}\n"},
         by_absence,
         &empty_level},
    Rule{{"size-drift", warning, "A measured size is over a tenth off the plan's own.",
          "The measured one is used. Bring the plan up to date, so that it means what it says.\n\n"
          "    sizes: [measured.csv]\n"},
         by_presence,
         &size_drift},
    Rule{{"unbounded-fact", warning, "Steps add to a number that has no range.",
          "It can grow for ever, and exploring would never end. Give it a range.\n\n"
          "    letters: {initial: 0, range: [0, 12]}\n"},
         by_absence,
         &unbounded_fact},
    Rule{{"restore-without-save", warning, "Steps restore, and nothing ever saves.",
          "The saved store stays empty.\n\n    - save: all\n"},
         by_absence,
         &restore_without_save},
    Rule{{"saved-never-set", warning, "A fact is saved, and nothing ever sets it.",
          "It keeps its initial value for good.\n\n    - set: {saved_round: +1}\n"},
         by_absence,
         &saved_never_set},
    Rule{{"fact-never-read", warning, "No condition reads a fact.",
          "Nothing depends on it. Use it, or take it out.\n\n    when: has_pass\n"},
         by_absence,
         &fact_never_read},
    Rule{{"constant-condition", warning, "A condition names nothing that could change.",
          "It holds always or never. Was a fact meant?\n\n    when: letters >= 3\n"},
         by_presence,
         &constant_condition},
    Rule{
        {"unused-definition", warning, "Something is defined, and nothing uses it.",
         "Often a name that is spelled differently elsewhere. Use it, or take it out.\n\n    kits: "
         "[brass-fittings]\n"},
        by_absence,
        &unused_definition},
    Rule{{"allowed-for-nothing", warning, "`allow` silences a finding that is not there.",
          "What it was there for has been mended, or its name is wrong. Take it out.\n\n"
          "    allow: {switch-without-veil: the credits begin on black}\n"},
         by_absence,
         nullptr},
};

/// Findings of a walk and of exploring, which `allow` may silence too.
constexpr std::array<std::string_view, 36> found_elsewhere{"stood-in-gap",
                                                           "placed-before-shown",
                                                           "unveiled-too-early",
                                                           "over-budget",
                                                           "stuck",
                                                           "not-delivered",
                                                           "seen-gap",
                                                           "low-slack",
                                                           "long-stall",
                                                           "long-hitch",
                                                           "low-headroom",
                                                           "wait-too-long",
                                                           "load-thrash",
                                                           "steps-abandoned",
                                                           "switch-refused",
                                                           "out-of-range",
                                                           "rule-broken",
                                                           "dead-end",
                                                           "trap",
                                                           "gate-never-opens",
                                                           "frozen-for-good",
                                                           "veil-for-good",
                                                           "nothing-shown-here",
                                                           "rival-switches",
                                                           "unload-under-player",
                                                           "level-never-shown",
                                                           "trigger-never-fires",
                                                           "item-never-pressed",
                                                           "choice-never-taken",
                                                           "condition-never-true",
                                                           "beyond-edition",
                                                           "piles-up",
                                                           "fact-lost",
                                                           "fact-left-over",
                                                           "unsaved-change",
                                                           "order-matters"};

} // namespace

std::span<const Rule> rules() {
    return all_rules;
}

std::span<const std::string_view> names_found_elsewhere() {
    return found_elsewhere;
}

} // namespace hestrel::check
