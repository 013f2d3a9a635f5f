#include "explore/move_runner.hpp"

#include <algorithm>

namespace hestrel::explore {

using flow::PlayerId;

namespace {

/// Of taking branches in one move.
constexpr std::size_t most_ways = 10'000;
/// Where a move goes round in a circle, other branches are tried at so many of its first choices.
constexpr std::size_t most_in_circle = 4;

/// The next way of taking branches, where the last was `picks` and each choice had so many: the
/// last choice that has a branch left takes it. False where that was all.
bool next_picks(std::vector<std::size_t>& picks, const Game& game) {
    std::vector<std::size_t> choices = game.choices();
    if (game.log().endless) choices.resize(std::min(choices.size(), most_in_circle));
    picks.resize(choices.size(), 0);
    while (!picks.empty() && picks.back() + 1 == choices[picks.size() - 1]) picks.pop_back();
    if (picks.empty()) return false;
    ++picks.back();
    return true;
}

flow::FactValue initial(const plan::Plan& plan, const Layout& layout, flow::FactSlot slot) {
    return flow::fact_value(plan.facts[layout.slots.fact(slot)].initial);
}

/// A row of which facts and the saved store are set.
std::vector<Word> row_of(const plan::Plan& plan, const Layout& layout,
                         const flow::FactValues& facts,
                         const std::optional<flow::SavedStore>& saved) {
    std::vector<Word> row(layout.words);
    for (const flow::FactSlot fact : layout.slots.ids())
        layout.facts[fact].set(row.data(), facts[fact]);
    for (const flow::FactSlot fact : layout.saved_facts) {
        layout.saved[fact].set(row.data(),
                               saved ? saved->facts[fact] : initial(plan, layout, fact));
    }
    return row;
}

Ending way_of(const plan::Plan& plan, const Layout& layout, Game& game) {
    Ending way;
    flow::Facts& facts = game.flow().facts();
    facts.record(nullptr);
    way.bits = row_of(plan, layout, facts.all(), facts.saved());
    for (const plan::TriggerId trigger : layout.once_triggers)
        layout.spent[trigger].set(way.bits.data(), game.triggers().spent(trigger) ? 1 : 0);
    way.levels = game.levels();
    way.control = game.flow().state();
    for (std::uint32_t player = 0; player < game.players(); ++player) {
        way.players.push_back(game.player(PlayerId{player}));
        way.placed.push_back(game.placed(PlayerId{player}));
    }
    way.order_mattered = game.order_did_matter();
    way.log = game.log();
    way.log.carried = game.carried();
    return way;
}

} // namespace

std::vector<std::string> names_of_players(const plan::Plan& plan,
                                          const std::vector<plan::PlayerKindId>& kinds) {
    std::vector<std::string> names;
    for (const plan::PlayerKindId kind : kinds) {
        std::string name = kind ? plan.players[kind].name : std::string("player");
        if (kinds.size() > 1) name += "-" + std::to_string(names.size() + 1);
        names.push_back(std::move(name));
    }
    return names;
}

Ending ending_of(const plan::Plan& plan, const Layout& layout, const flow::Snapshot& now) {
    Ending way;
    way.bits = row_of(plan, layout, now.facts, now.saved);
    for (const plan::TriggerId trigger : now.spent) {
        if (plan.triggers[trigger].once) layout.spent[trigger].set(way.bits.data(), 1);
    }
    for (const flow::Snapshot::Level& each : now.levels)
        way.levels.push_back({each.level, each.shown, each.wanted, false, false, false});
    way.control = now.state;
    for (const flow::Snapshot::Player& each : now.players) {
        PlayerNow player;
        player.at = each.at;
        player.standing = each.standing;
        way.players.push_back(player);
        way.placed.push_back(true);
    }
    return way;
}

MoveRunner::MoveRunner(const plan::Plan& plan, plan::EditionId edition,
                       const std::vector<plan::PlayerKindId>& players, Pace pace,
                       const Layout& layout, const Reduction& reduction)
    : plan_(&plan), layout_(&layout), came_true_(plan.conditions.size(), false),
      game_(plan, edition, players, pace, reduction) {
    game_.flow().record_true(&came_true_);
}

Game& MoveRunner::resume(const Unpacked& from) {
    flow::Facts& facts = game_.flow().facts();
    facts.record(nullptr);
    for (const flow::FactSlot fact : layout_->slots.ids())
        facts.resume(fact, layout_->facts[fact].get(from.row));
    if (from.control->has_saved) {
        flow::SavedStore store;
        store.checkpoint = from.control->saved_checkpoint;
        for (const flow::FactSlot fact : layout_->slots.ids())
            store.facts.push(initial(*plan_, *layout_, fact));
        for (const flow::FactSlot fact : layout_->saved_facts)
            store.facts[fact] = layout_->saved[fact].get(from.row);
        facts.resume_saved(std::move(store));
    } else {
        facts.resume_saved(std::nullopt);
    }
    for (const plan::TriggerId trigger : layout_->once_triggers)
        game_.triggers().set_spent(trigger, layout_->spent[trigger].get(from.row) != 0);
    game_.resume(from.levels, *from.control);
    for (std::uint32_t player = 0; player < from.players.size(); ++player)
        game_.resume(PlayerId{player}, *from.players[player]);
    game_.resumed();
    facts.record(&asked_);
    asked_.now.clear();
    asked_.saved.clear();
    return game_;
}

void MoveRunner::take_asked(MoveRun& trial) {
    const auto append = [](auto& to, const auto& more) {
        to.insert(to.end(), more.begin(), more.end());
    };
    append(trial.facts.now, asked_.now);
    append(trial.facts.saved, asked_.saved);
    append(trial.once, game_.triggers().take_once_asked());
    append(trial.levels, game_.touched().levels());
    trial.all_levels = trial.all_levels || game_.touched().all();
    trial.zones.resize(game_.players());
    trial.where.resize(game_.players());
    for (std::uint32_t player = 0; player < game_.players(); ++player) {
        append(trial.zones[player], game_.asked_zones(PlayerId{player}));
        if (game_.asked_where(PlayerId{player})) trial.where[player] = true;
    }
}

/// In all ways of taking branches; whether it could have gone otherwise at another speed.
bool MoveRunner::try_one(const Move& move, std::uint32_t speed, const Unpacked& from,
                         MoveRun& trial) {
    std::vector<std::size_t> picks;
    bool asked_for_speed = false;
    for (std::size_t ways = 0; ways < most_ways; ++ways) {
        resume(from);
        const bool done = game_.perform(move, picks);
        if (done) {
            trial.ways.push_back(way_of(*plan_, *layout_, game_));
            trial.ways.back().speed = speed;
        }
        take_asked(trial);
        asked_for_speed = asked_for_speed || game_.asked_for_speed();
        if (!done || !next_picks(picks, game_)) break;
    }
    return asked_for_speed;
}

MoveRun MoveRunner::try_out(std::span<const Move> moves, const Unpacked& from) {
    MoveRun trial;
    trial.asked_for_speed = try_one(moves.front(), 0, from, trial);
    if (trial.asked_for_speed) {
        for (std::uint32_t speed = 1; speed < moves.size(); ++speed)
            try_one(moves[speed], speed, from, trial);
    }
    if (moves.front().kind == Move::Kind::launch) {
        // Nothing is left but the saved store, and all hangs on that alone.
        trial.facts = {{}, layout_->saved_facts};
        trial.once.clear();
        trial.levels.clear();
        trial.all_levels = false;
        trial.zones.assign(trial.zones.size(), {});
        trial.where.assign(trial.where.size(), false);
    }
    const auto each_once = [](auto& all) {
        std::sort(all.begin(), all.end());
        all.erase(std::unique(all.begin(), all.end()), all.end());
    };
    for (std::vector<flow::ZoneId>& zones : trial.zones) each_once(zones);
    each_once(trial.levels);
    return trial;
}

std::vector<Ending> MoveRunner::boot(const plan::Plan& plan, plan::EditionId edition,
                                     const std::vector<plan::PlayerKindId>& players, Pace pace,
                                     const Layout& layout, const Reduction& reduction,
                                     const plan::Start& start,
                                     const std::optional<flow::KeptStore>& saved,
                                     std::vector<bool>& came_true) {
    std::vector<Ending> ways;
    std::vector<std::size_t> picks;
    do {
        Game game(plan, edition, players, pace, reduction,
                  flow::setup_of(plan, start, names_of_players(plan, players), saved));
        game.flow().record_true(&came_true);
        game.boot(start.level, start.at, picks, start.loaded);
        ways.push_back(way_of(plan, layout, game));
        if (!next_picks(picks, game)) break;
    } while (ways.size() < most_ways);
    return ways;
}

} // namespace hestrel::explore
