// A game's moves: what players do, and what happens until all has settled.

#include "explore/game.hpp"

#include "explore/keys.hpp"
#include "plan/questions.hpp"

#include <algorithm>

namespace hestrel::explore {

using flow::PlayerId;
using plan::LevelId;
using plan::Micros;

namespace {

/// A move in which more lists are started goes round in a circle.
constexpr std::size_t most_lists = 2'000;

/// Whatever a plan says of times has passed by then.
constexpr Micros long_after{std::int64_t{1} << 50};

} // namespace

// --- what happens next -------------------------------------------------------

/// As a walk settles after each event: lists, triggers, near rules, until nothing changes.
void Game::settle_now() {
    bool changed = true;
    while (changed && !log_.endless && !flow_.ended()) {
        flow_.apply_level_events();
        changed = flow_.resume_ready();
        if (flow_.booted() && !booted_) {
            booted_ = true;
            triggers_.booted();
        }
        changed = triggers_.judge() || changed;
        if (flow_.booted() && !flow_.ended() && near_.judge()) {
            flow_.apply_level_events();
            changed = true;
        }
        log_.endless = log_.lists.size() > most_lists;
        linger();
        changed = changed || triggers_.to_judge();
    }
}

/// Unless they hurry, everyone stands still while anything is going on.
void Game::linger() {
    const bool all_held = pace_ == Pace::unhurried && going_on();
    for (std::uint32_t player = 0; player < travellers_.size(); ++player) {
        OnFoot& traveller = travellers_[player];
        const bool held = all_held || flow_.frozen(PlayerId{player});
        if (!traveller.on_the_way() || traveller.moving == !held) continue;
        traveller.moving = !held;
        triggers_.movement_changed();
    }
}

bool Game::attach_block() {
    if (!levels_.is_block_ready()) return false;
    levels_.block_attached();
    return true;
}

bool Game::attach_next() {
    if (!levels_.block().empty()) return attach_block();
    const LevelId next = levels_.take_first();
    if (next) levels_.attached(next);
    return static_cast<bool>(next);
}

/// Ends the next wait that time ends, if it does so by then.
bool Game::wake_next(Micros by) {
    while (!alarms_.empty() && alarms_.top().at <= by) {
        const Alarm alarm = alarms_.top();
        alarms_.pop();
        if (!flow_.awaits(alarm.number)) continue;
        now_ = std::max(now_, alarm.at);
        flow_.wake(alarm.number);
        return true;
    }
    return false;
}

bool Game::next_event() {
    ++moment_.count;
    // What ends in one instant ends before what is asked for in it is there.
    if (pace_ == Pace::unhurried && wake_next(now_)) return true;
    if (!arriving_.empty()) {
        const LevelId next = std::get<LevelId>(*arriving_.begin());
        arriving_.erase(arriving_.begin());
        levels_.arrived(next);
        return true;
    }
    return attach_next() || wake_next(Micros::never()) || flow_.drop_waiting();
}

/// Where a list has started to wait, which rules are broken.
void Game::look_at_rules() {
    if (!std::exchange(began_to_wait_, false) || !booted_) return;
    for (const plan::RuleId id : plan_->rules.ids()) {
        if (plan_->rules[id].longer_than || !rules_.broken(id, false)) continue;
        const bool known = std::any_of(log_.breaches.begin(), log_.breaches.end(),
                                       [&](const plan::Breach& each) { return each.rule == id; });
        if (!known) log_.breaches.push_back(rules_.breach(id));
    }
}

/// Wherever all lists wait, what is shown: in a walk no more is shown at any moment until then.
void Game::look_at_frames() {
    if (!frames_cost_ || !std::exchange(frames_changed_, false) || !booted_) return;
    if (flow_.veils().any() || !levels_.block().empty()) return;
    std::vector<LevelId> more;
    std::vector<LevelId> less;
    for (const auto& [level, shown] : shown_since_) (shown ? more : less).push_back(level);
    remember(MoveLog::Memory::Kind::frames, static_cast<std::uint32_t>(log_.families.size()));
    log_.families.push_back(std::move(more));
    log_.families.push_back(std::move(less));
}

void Game::settle() {
    settle_now();
    look_at_rules();
    look_at_frames();
    if (pace_ == Pace::hurried && booted_) {
        if (going_on() || !leaving_.empty()) return; // waits for what comes next
    } else {
        while (!flow_.ended() && !log_.endless && next_event()) {
            settle_now();
            look_at_rules();
            look_at_frames();
            if (pace_ == Pace::hurried && booted_) return;
        }
    }
    remember(MoveLog::Memory::Kind::settled);
}

// --- moving ------------------------------------------------------------------

double Game::speed_of_move(const Move& move) const {
    return plan_->players[kinds_[move.player.value]].speeds[move.speed].metres_per_second;
}

/// The next thing that a moving player meets.
void Game::go_on_way(PlayerId player) {
    OnFoot& traveller = travellers_[player.value];
    // How long a veil that is up has to stay up still depends on how long this takes.
    asked_for_speed_ = asked_for_speed_ || flow_.veils().any();
    if (traveller.next_crossing < traveller.crossings.size()) {
        const flow::Crossing crossing = traveller.crossings[traveller.next_crossing++];
        now_ += crossing.after - traveller.walked;
        traveller.walked = crossing.after;
        note_near(player, crossing.zone, crossing.enters, false);
        if (crossing.enters) {
            triggers_.enter(player, crossing.zone);
        } else {
            triggers_.leave(player, crossing.zone);
        }
        return;
    }
    now_ += traveller.duration - traveller.walked;
    triggers_.movement_changed();
    if (!next_piece(*plan_, traveller)) {
        const plan::WaypointId goal = traveller.goal;
        traveller = {};
        traveller.at = goal;
        return;
    }
    measure_piece(*plan_, zones_, triggers_.inside(player), traveller);
}

/// Those of one kind by where they are, so that it does not matter what numbers they have.
std::vector<PlayerId> Game::moving_in_order() {
    std::vector<PlayerId> moving;
    for (std::uint32_t number = 0; number < travellers_.size(); ++number) {
        if (travellers_[number].moving) moving.emplace_back(number);
    }
    if (moving.size() < 2) return moving;
    std::vector<std::tuple<plan::PlayerKindId, Key, PlayerId>> order;
    for (const PlayerId each : moving)
        order.emplace_back(kinds_[each.value], key_of(player(each)), each);
    std::sort(order.begin(), order.end());
    for (std::size_t i = 0; i < moving.size(); ++i) {
        moving[i] = std::get<PlayerId>(order[i]);
        const bool same_place = i > 0 && std::get<Key>(order[i - 1]) == std::get<Key>(order[i]);
        if (same_place && any_differ({moving[i - 1], moving[i]})) order_mattered_ = true;
    }
    return moving;
}

void Game::finish_ways() {
    for (bool any = true; any && !log_.endless;) {
        any = false;
        for (const PlayerId player : moving_in_order()) {
            if (flow_.ended()) break;
            if (!travellers_[player.value].moving) continue; // no more
            any = true;
            go_on_way(player);
            settle();
        }
    }
}

bool Game::set_out(const Move& move) {
    OnFoot& traveller = travellers_[move.player.value];
    const plan::GateId gate = plan_->paths[move.leg.path].gate;
    const bool closed = gate && !plan::is_open(*plan_, plan_->gates[gate],
                                               [&](LevelId level) { return shown(level); });
    if (closed || flow_.frozen(move.player) || traveller.at != geometry::start_of(*plan_, move.leg))
        return false;
    set_out_along(*plan_, traveller, move.leg, speed_of_move(move));
    traveller.at = {};
    measure_piece(*plan_, zones_, triggers_.inside(move.player), traveller);
    traveller.moving = true;
    triggers_.movement_changed();
    return true;
}

/// What a move begins with; false where it can't be done.
bool Game::start_move(const Move& move) {
    switch (move.kind) {
    case Move::Kind::boot: return false; // that was long ago
    case Move::Kind::go: return set_out(move);
    case Move::Kind::press: {
        const plan::Item& item = plan_->items[move.item];
        if (!flow_.menu_open(item.menu, move.player) || !flow_.holds(item.when, move.player))
            return false;
        flow_.press(move.item, move.player);
        return true;
    }
    case Move::Kind::after:
        if (!flow_.menu_open(move.menu, move.player)) return false;
        flow_.run_after(move.menu, flow_.open_for(move.menu, move.player));
        return true;
    case Move::Kind::launch: launch(move.level); return true;
    case Move::Kind::arrive:
        touched_.note(move.level);
        if (arriving_.erase({levels_[move.level].turn.priority, levels_[move.level].turn.asked,
                             move.level}) == 0)
            return false;
        levels_.arrived(move.level);
        return true;
    case Move::Kind::attach: return attach(move.level);
    case Move::Kind::attach_block: return attach_block();
    case Move::Kind::wake:
        now_ = long_after; // a veil's `min` has passed as well
        return flow_.time_passes(move.run);
    case Move::Kind::sweep:
        if (leaving_.empty()) return false;
        leaving_.clear();
        remember(MoveLog::Memory::Kind::released, static_cast<std::uint32_t>(log_.families.size()));
        log_.families.emplace_back();
        return true;
    case Move::Kind::drop: return !something_comes() && flow_.drop_waiting();
    }
    return false;
}

/// A level that waits for it, or that has come without anybody knowing.
bool Game::attach(LevelId level) {
    if (!levels_.block().empty()) return false;
    const loading::AttachTurn turn = look(level).turn;
    const bool comes = arriving_.erase({turn.priority, turn.asked, level}) > 0;
    if (comes && reduction_.tells_coming(level)) return false;
    if (comes) {
        levels_.arrived(level);
        remember(MoveLog::Memory::Kind::came, level.value);
    }
    if (!look(level).in_queue) return false;
    levels_.attached(level);
    return true;
}

/// Whether anything goes on by itself that somebody could wait for.
bool Game::something_comes() const {
    const bool arrives = std::any_of(arriving_.begin(), arriving_.end(), [&](const Arriving& each) {
        const LevelId level = std::get<LevelId>(each);
        if (reduction_.tells_coming(level)) return true;
        const LevelId above = plan_->levels[level].parent;
        return reduction_.tells_showing(level) && levels_[level].wanted &&
               !levels_[level].blocked && (!above || levels_[above].shown);
    });
    const bool attaches = std::any_of(
        levels_.queue().begin(), levels_.queue().end(),
        [&](const loading::AttachTurn& each) { return reduction_.tells_showing(each.level); });
    return arrives || attaches || levels_.is_block_ready() || !leaving_.empty() ||
           flow_.ends_by_itself();
}

bool Game::perform(const Move& move, const std::vector<std::size_t>& picks) {
    picks_ = picks;
    if (!start_move(move)) return false;
    settle();
    finish_ways();
    // Who was stopped on the way goes on at that speed.
    asked_for_speed_ = asked_for_speed_ ||
                       (move.kind == Move::Kind::go && travellers_[move.player.value].on_the_way());
    return true;
}

void Game::boot(LevelId level, plan::WaypointId at, const std::vector<std::size_t>& picks,
                const std::vector<LevelId>& loaded) {
    picks_ = picks;
    stand_at(at);
    flow_.boot(level, loaded);
    settle();
    finish_ways();
}

void Game::note_near(PlayerId player, flow::ZoneId zone, bool inside, bool placed) {
    if (zones_[zone].left_out) log_.near.push_back({player, zone, inside, placed});
}

void Game::stand_inside(PlayerId player, plan::WaypointId at) {
    const std::set<flow::ZoneId> inside = zones_.around(*plan_, at);
    for (const flow::ZoneId zone : inside) note_near(player, zone, true, true);
    triggers_.stand_inside(player, inside);
}

void Game::stand_at(plan::WaypointId at) {
    for (std::uint32_t player = 0; player < travellers_.size(); ++player) {
        travellers_[player] = {};
        travellers_[player].at = at;
        stand_inside(PlayerId{player}, at);
    }
}

/// All is gone but the saved store; then a boot, whose time begins anew.
void Game::launch(LevelId level) {
    levels_.clear();
    leaving_.clear();
    arriving_.clear();
    kept_.clear();
    events_.clear();
    alarms_ = {};
    shown_since_.clear();
    rules_.levels_changed();
    remember(MoveLog::Memory::Kind::launched);
    triggers_.launch();
    booted_ = false;
    flow_.launch(level);
    carried_.launched(flow_.facts());
    stand_at(plan::first_entry(plan_->levels[level]));
    placed_.assign(placed_.size(), true);
}

} // namespace hestrel::explore
