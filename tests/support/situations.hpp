#pragma once
// Exploring by the book: every situation in full, every move done by the interpreter.

#include "explore/explorer.hpp"
#include "explore/keys.hpp"

#include <algorithm>
#include <deque>
#include <map>
#include <numeric>
#include <set>

namespace hestrel::tests {

/// A situation in full.
struct PlainSituation {
    std::vector<explore::LevelThere> levels;
    flow::State settled;
    std::vector<explore::PlayerNow> players;
    flow::FactValues facts;
    std::optional<flow::SavedStore> saved;
    std::vector<bool> spent;

    /// Two are the same situation exactly where their keys are the same.
    [[nodiscard]] explore::Key key() const { return explore::key_of(*this); }
};
void for_members(plan::IsA<PlainSituation> auto& of, auto&& visit) {
    auto& [levels, settled, players, facts, saved, spent] = of;
    visit(levels);
    visit(settled);
    visit(players);
    visit(facts);
    visit(saved.has_value());
    if (saved) visit(saved->facts); // its checkpoint is part of `settled`
    visit(spent);
}

/// The same for all situations that differ by exchanging players of one kind: the least key of all.
inline explore::Key key_up_to_exchange(const PlainSituation& now, const explore::Explorer& like) {
    const std::size_t count = now.players.size();
    const flow::FactSlots& slots = like.layout().slots;
    std::vector<std::uint32_t> from(count);
    std::iota(from.begin(), from.end(), 0U);
    explore::Key least = now.key();
    if (like.options().tell_players_apart) return least;
    while (std::next_permutation(from.begin(), from.end())) {
        bool alike = true;
        std::vector<flow::PlayerId> to(count);
        for (std::uint32_t player = 0; player < count; ++player) {
            alike = alike && like.players()[player] == like.players()[from[player]];
            to[from[player]] = flow::PlayerId{player};
        }
        if (!alike) continue;
        PlainSituation other = now;
        other.settled = flow::renamed(now.settled, to);
        for (std::size_t player = 0; player < count; ++player)
            other.players[player] = now.players[from[player]];
        for (const flow::FactSlot slot : slots.ids()) {
            const flow::PlayerId whose = slots.player(slot);
            if (!whose) continue;
            const flow::FactSlot before =
                slots.of(slots.fact(slot), flow::PlayerId{from[whose.value]});
            other.facts[slot] = now.facts[before];
            if (now.saved) other.saved->facts[slot] = now.saved->facts[before];
        }
        least = std::min(least, other.key());
    }
    return least;
}

/// The situation a game is in.
inline PlainSituation plain(const plan::Plan& plan, explore::Game& game) {
    PlainSituation now;
    now.levels = game.levels();
    now.settled = game.flow().state();
    for (std::uint32_t player = 0; player < game.players(); ++player)
        now.players.push_back(game.player(flow::PlayerId{player}));
    now.facts = game.flow().facts().all();
    now.saved = game.flow().facts().saved();
    for (const plan::TriggerId trigger : plan.triggers.ids())
        now.spent.push_back(plan.triggers[trigger].once && game.triggers().spent(trigger));
    return now;
}

inline void resume(const plan::Plan& plan, explore::Game& game, const PlainSituation& now) {
    for (const flow::FactSlot slot : now.facts.ids())
        game.flow().facts().resume(slot, now.facts[slot]);
    game.flow().facts().resume_saved(now.saved);
    for (const plan::TriggerId trigger : plan.triggers.ids())
        game.triggers().set_spent(trigger, now.spent[trigger.value]);
    game.resume(now.levels, now.settled);
    for (std::uint32_t player = 0; player < game.players(); ++player)
        game.resume(flow::PlayerId{player}, now.players[player]);
    game.resumed();
}

/// One of the explorer's situations, in full.
inline PlainSituation plain(const explore::Explorer& explorer, std::uint32_t number) {
    const plan::Plan& plan = explorer.plan();
    const explore::Word* row = explorer.row(number);
    const explore::Layout& layout = explorer.layout();
    PlainSituation now;
    now.levels = explorer.levels_of(row);
    now.settled = explorer.control_of(row);
    for (std::size_t player = 0; player < explorer.players().size(); ++player)
        now.players.push_back(explorer.player_of(row, player));
    for (const flow::FactSlot slot : layout.slots.ids())
        now.facts.push(layout.facts[slot].get(row));
    if (now.settled.has_saved) {
        now.saved.emplace();
        for (const flow::FactSlot slot : layout.slots.ids()) {
            const plan::Fact& fact = plan.facts[layout.slots.fact(slot)];
            now.saved->facts.push(fact.lifetime == plan::Lifetime::saved
                                      ? layout.saved[slot].get(row)
                                      : flow::fact_value(fact.initial));
        }
    }
    for (const plan::TriggerId trigger : plan.triggers.ids())
        now.spent.push_back(plan.triggers[trigger].once && layout.spent[trigger].get(row) != 0);
    return now;
}

/// The same without some levels, as a key.
inline explore::Key key_of(const explore::Explorer& explorer, std::uint32_t number,
                           const explore::FoldedNear& without = {}) {
    PlainSituation now = plain(explorer, number);
    std::erase_if(now.levels, [&](const auto& each) { return without.leaves_out(each.level); });
    return key_up_to_exchange(now, explorer);
}

/// All of them, without some levels.
inline std::set<explore::Key> keys_of(const explore::Explorer& explorer,
                                      const explore::FoldedNear& without = {}) {
    std::set<explore::Key> all;
    for (std::uint32_t number = 0; number < explorer.situations(); ++number)
        all.insert(key_of(explorer, number, without));
    return all;
}

/// The first edition, where there is one, on all devices.
inline explore::Options exploring_of(const plan::Plan& plan) {
    explore::Options options;
    if (!plan.editions.empty()) options.edition = plan::EditionId{0};
    for (const plan::DeviceId device : plan.devices.ids()) options.devices.push_back(device);
    return options;
}

/// All situations, found by doing every move from every one of them; up to exchange of players who
/// are alike where the explorer does so.
inline std::set<explore::Key> slow_situations(const plan::Plan& plan,
                                              const explore::Explorer& like) {
    std::set<explore::Key> seen; // players told apart
    std::set<explore::Key> all;
    std::deque<PlainSituation> next;
    const auto next_picks = [](std::vector<std::size_t>& picks,
                               const std::vector<std::size_t>& choices) {
        picks.resize(choices.size(), 0);
        while (!picks.empty() && picks.back() + 1 == choices[picks.size() - 1]) picks.pop_back();
        if (!picks.empty()) ++picks.back();
        return !picks.empty();
    };
    // Of a circle only the first few choices are taken otherwise.
    const auto choices_of = [](const explore::Game& game) {
        std::vector<std::size_t> choices = game.choices();
        if (game.log().endless) choices.resize(std::min<std::size_t>(choices.size(), 4));
        return choices;
    };
    std::vector<std::size_t> picks;
    for (bool more = true; more;) {
        explore::Game begun(
            plan, like.options().edition, like.players(), like.options().pace, like.reduction(),
            flow::setup_of(plan, like.start(), explore::names_of_players(plan, like.players()),
                           like.options().saved));
        begun.boot(like.start_level(), like.start_at(), picks, like.start().loaded);
        if (!begun.log().endless) {
            PlainSituation start = plain(plan, begun);
            all.insert(key_up_to_exchange(start, like));
            if (seen.insert(start.key()).second) next.push_back(std::move(start));
        }
        more = next_picks(picks, choices_of(begun));
    }
    if (next.empty()) return all;
    explore::Game game(plan, like.options().edition, like.players(), like.options().pace,
                       like.reduction());
    game.boot(like.start_level(), like.start_at(), {});
    for (; !next.empty(); next.pop_front()) {
        const bool ended = next.front().settled.ended;
        for (const explore::Move& move : like.moves()) {
            const bool launches = move.kind == explore::Move::Kind::launch;
            if (ended ? !launches : launches && !like.options().quit_anywhere) continue;
            if (next.front().settled.booting) continue;
            picks.clear();
            for (bool more = true; more;) {
                resume(plan, game, next.front());
                if (!game.perform(move, picks)) break;
                const bool too_many = game.flow().state().runs.size() > like.options().most_running;
                if (!game.log().endless && !too_many) {
                    PlainSituation after = plain(plan, game);
                    if (seen.insert(after.key()).second) {
                        all.insert(key_up_to_exchange(after, like));
                        next.push_back(std::move(after));
                    }
                }
                more = next_picks(picks, choices_of(game));
            }
        }
    }
    return all;
}

} // namespace hestrel::tests
