// What the names of exploring's findings mean.

#include "explore/findings.hpp"

#include <array>

namespace hestrel::explore {

namespace {

using plan::RuleText;
constexpr plan::Severity error = plan::Severity::error;
constexpr plan::Severity warning = plan::Severity::warning;

constexpr std::array all_rules{
    RuleText{"rule-broken", error, "A situation breaks one of the plan's rules.",
             "Whatever players do, the plan's `rules` are to hold once everything has settled.\n\n"
             "    rules: [{exactly: 1, of: camera}]\n"},
    RuleText{"dead-end", error, "Nothing can be done any more, and the game is not over.",
             "No path, no menu and no delay leads anywhere else. Open a way on, or end the "
             "session.\n\n    steps: [{end: session}]\n"},
    RuleText{"trap", error, "Neither an end nor the start level can be reached any more.",
             "Players can go on, but only round and round. Give them a way out.\n\n"
             "    after: {delay: 20 s, steps: [{switch: {to: title}}]}\n"},
    RuleText{"gate-never-opens", error, "A gate is closed in every situation.",
             "What it needs is never shown all at once.\n\n    gates: {quay-door: {needs: "
             "[quay]}}\n"},
    RuleText{"frozen-for-good", error, "Players are frozen, and nothing thaws them.",
             "Each `freeze` and each pausing menu needs an end that can still come.\n\n"
             "    steps: [{freeze: players}, {wait: 2 s}, {thaw: players}]\n"},
    RuleText{"veil-for-good", error, "A veil is up, and nothing takes it down.",
             "Its `unveil` stands in a list that was left, or that nothing starts.\n\n"
             "    steps: [{veil: lift}, {wait: {shown: [quay]}}, {unveil: lift}]\n"},
    RuleText{"nothing-shown-here", error, "A player stands where nothing is shown.",
             "It is inside the area of levels none of which is shown, and no veil hides that.\n\n"
             "    - show: [quay]\n"},
    RuleText{"rival-switches", error, "A switch begins while another is under way.",
             "The second is refused. Let one list decide where to go.\n\n"
             "    when: not veiled\n"},
    RuleText{"unload-under-player", error, "A level is unloaded while a player stands in it.",
             "Station the player elsewhere first, or veil it.\n\n"
             "    steps: [{place: {at: quay.steps}}, {unload: [ferry-deck]}]\n"},
    RuleText{"never-settles", error, "A move never comes to rest.",
             "Lists set each other off for ever. Break the circle with a condition or `once`.\n\n"
             "    once: true\n"},
    RuleText{"order-matters", warning, "Two lists that run at once end differently.",
             "Players who hurry can start both, and it depends on what is loaded first, or whose "
             "wait is over first, how they end. Let one wait for the other.\n\n"
             "    - wait: {until: bridge == down}\n"},
    RuleText{"level-never-shown", warning, "An edition ships a level that nobody ever sees.",
             "Show it somewhere, or leave it out of the edition.\n\n    - show: [quay]\n"},
    RuleText{"trigger-never-fires", warning, "A trigger never fires, whatever players do.",
             "No path crosses it while its level is shown.\n\n    box: {min: [44, 0, 10], max: "
             "[48, 4, 30]}\n"},
    RuleText{"item-never-pressed", warning, "An item can never be pressed.",
             "Its menu is never open.\n\n    - open: front-desk\n"},
    RuleText{"choice-never-taken", warning, "A branch of a choice is never taken.",
             "The list never gets as far as the `choose`.\n\n    - choose: {north: [], south: "
             "[]}\n"},
    RuleText{"condition-never-true", warning, "A condition never holds.",
             "Nothing that players can do makes it true.\n\n    when: letters >= 3\n"},
    RuleText{"beyond-edition", warning, "A position, `next` or `back` leads out of the edition.",
             "Nothing happens there. Close the way, or ship the level.\n\n"
             "    - switch: {to: far-shore}\n"},
    RuleText{"piles-up", warning, "A round trip leaves more loaded than before.",
             "Back at the same place a level is still loaded that was not there the first time.\n\n"
             "    near: {load: 80, unload: 110}\n"},
    RuleText{"fact-lost", warning, "A value is lost on the way, and something goes by it.",
             "A fact of lifetime `level` goes back to its initial value when players leave, and a "
             "trigger or an item goes by it after that. Where the game should remember it, give it "
             "a longer life; where it should forget, allow this.\n\n    bells: {initial: none, "
             "lifetime: session}\n"},
    RuleText{"fact-left-over", warning, "A new game begins with an old value.",
             "Players come back to the start, and a fact is not as it was. Reset it.\n\n"
             "    - reset: session\n"},
    RuleText{"unsaved-change", warning, "The session ends with something unsaved.",
             "A fact of lifetime `saved` has changed since it was saved last.\n\n    - save: "
             "all\n"},
};

} // namespace

std::span<const RuleText> rules() {
    return all_rules;
}

} // namespace hestrel::explore
