#include "explore/game.hpp"

#include "explore/keys.hpp"
#include "plan/firers.hpp"
#include "plan/lists.hpp"
#include "plan/questions.hpp"

#include <algorithm>

namespace hestrel::explore {

using flow::LevelChange;
using flow::PlayerId;
using plan::LevelId;
using plan::Micros;
using plan::Priority;

namespace {

/// A move in which more lists are started goes round in a circle.
constexpr std::size_t most_lists = 2'000;

flow::Setup setup_for(flow::Setup setup, plan::EditionId edition, std::size_t players, Pace pace) {
    setup.players = players;
    setup.edition = edition;
    setup.after_is_told = true;
    setup.waits_for_ever = pace == Pace::unhurried;
    setup.forgets_firers = true;
    setup.veils_just_raised = pace == Pace::hurried;
    return setup;
}

bool asks_for_speed(const plan::Plan& plan, plan::ConditionId condition) {
    return condition && plan.conditions[condition].asks({plan::Operation::speed});
}

std::vector<PlayerId> all_of(const std::vector<plan::PlayerKindId>& kinds) {
    std::vector<PlayerId> players;
    for (std::size_t i = 0; i < kinds.size(); ++i) players.emplace_back(i);
    return players;
}

/// Whatever a plan says of times has passed by then.
constexpr Micros long_after{std::int64_t{1} << 50};

} // namespace

Game::Game(const plan::Plan& plan, plan::EditionId edition, std::vector<plan::PlayerKindId> players,
           Pace pace, Reduction reduction, flow::Setup begins)
    : plan_(&plan), pace_(pace), tree_(plan::level_tree(plan.levels)),
      reduction_(std::move(reduction)),
      flow_(plan, *this, setup_for(std::move(begins), edition, players.size(), pace)),
      zones_(plan, [this](LevelId level) { return reduction_.near.has(level); }),
      kinds_(std::move(players)), asked_zones_(kinds_.size(), zones_.size()),
      near_(plan, zones_, flow_, *this, all_of(kinds_), &asked_zones_),
      triggers_(plan, zones_, flow_, *this, kinds_, &near_, &asked_zones_), rules_(plan, *this),
      touched_(tree_), levels_(tree_, asked_order_, *this, &touched_), travellers_(kinds_.size()),
      placed_(kinds_.size()), asked_where_(kinds_.size()), carried_(plan) {
    frames_cost_ = plan::has_frame_costs(plan);
    for (const plan::Trigger& trigger : plan.triggers)
        by_player_.push(plan::goes_by_firer(plan, trigger.steps, pace == Pace::unhurried) ||
                        plan::asks_about_one(plan, trigger.when, true) ||
                        asks_for_speed(plan, trigger.when));
    triggers_.forget_rearm();
    carried_.begin(flow_.facts());
}

// --- levels ------------------------------------------------------------------

void Game::ask(LevelId level, Priority priority, flow::By) {
    levels_.ask(level, priority, 0);
}

void Game::show(LevelId level, Priority priority, flow::By) {
    levels_.show(level, priority, 0);
}

void Game::unload_others(const std::function<bool(LevelId)>& stays, flow::By) {
    const std::set<LevelId> there = asked_levels();
    for (const LevelId level : there) {
        if (!stays(level)) levels_.unload(level);
    }
}

void Game::leave(const flow::Leaving& leaving) {
    std::vector<LevelId> leave;
    for (const LevelId level : asked_levels()) {
        if (flow_.leaves(leaving, level, leaving.was_loaded)) leave.push_back(level);
    }
    for (const LevelId level : leave) levels_.unload(level);
    leaving_.clear();
    remember(MoveLog::Memory::Kind::released, static_cast<std::uint32_t>(log_.families.size()));
    log_.families.push_back(kept_);
}

void Game::asked_for(LevelId level, std::uint32_t) {
    leaving_.erase(level);
    arriving_.insert({levels_[level].turn.priority, levels_[level].turn.asked, level});
    log_.asked.push_back(level);
    remember(MoveLog::Memory::Kind::asked, level.value);
}

void Game::raised(const loading::LevelNow& level, Priority before) {
    const loading::AttachTurn& turn = level.turn;
    if (arriving_.erase({before, turn.asked, turn.level}) > 0)
        arriving_.insert({turn.priority, turn.asked, turn.level});
}

void Game::let_go(const loading::LevelNow& before) {
    const LevelId level = before.turn.level;
    arriving_.erase({before.turn.priority, before.turn.asked, level});
    // What had not come is dropped, and absent at once.
    const bool had_time = !reduction_.tells_coming(level) && !plan::contains(log_.asked, level);
    if (pace_ == Pace::hurried && (before.arrived || had_time)) leaving_.insert(level);
    log_.unloaded.push_back(level);
    remember(MoveLog::Memory::Kind::unloaded, level.value);
}

void Game::changed(loading::LevelEvent event) {
    if (event.change == LevelChange::shown) log_.shown.push_back(event.level);
    if (event.change == LevelChange::shown || event.change == LevelChange::hidden)
        note_shown(event.level, event.change == LevelChange::shown);
    frames_changed_ = true;
    rules_.levels_changed();
    events_.push_back({event.level, event.change});
}

void Game::note_shown(LevelId level, bool shown) {
    const auto [known, fresh] = shown_since_.try_emplace(level, shown);
    if (!fresh && known->second != shown) shown_since_.erase(known); // as it was
}

std::vector<flow::LevelEvent> Game::take_level_events() {
    for (const flow::LevelEvent& event : events_) triggers_.level_changed(event);
    return std::exchange(events_, {});
}

flow::RunId Game::begin_near(LevelId level) {
    const flow::RunId run = flow_.number_transition();
    near_runs_.emplace_back(run, level);
    return run;
}

/// Of a level that is left out only what is above it comes.
bool Game::can_come(LevelId level) const {
    if (!reduction_.near.has(level)) return true;
    const LevelId above = plan_->levels[level].parent;
    return above && !look(above).wanted;
}

void Game::come_near(LevelId level) {
    flow_.show(reduction_.near.has(level) ? plan_->levels[level].parent : level, Priority::soon,
               {begin_near(level)});
}

void Game::near_refused(LevelId level) {
    note({flow::EventKind::variant_refused, {}, level.value});
}

void Game::go_far(LevelId level) {
    flow_.unload(level, {begin_near(level)});
}

// --- the rest of the stage ---------------------------------------------------

void Game::wake_after(Micros delay, std::uint32_t alarm) {
    alarms_.push({now_ + delay, alarm});
}

double Game::speed_of(PlayerId player) const {
    const OnFoot& traveller = travellers_[player.value];
    if (!traveller.moving) return 0;
    asked_for_speed_ = true;
    return traveller.piece_speed;
}

bool Game::stands_at(PlayerId player, plan::WaypointId waypoint) const {
    asked_where_[player.value] = true;
    return travellers_[player.value].at == waypoint;
}

bool Game::is_inside(PlayerId player, plan::TriggerId trigger) const {
    asked_where_[player.value] = true;
    return triggers_.is_inside(player, trigger);
}

bool Game::is_inside(PlayerId player, LevelId level) const {
    asked_where_[player.value] = true;
    return triggers_.is_inside(player, level);
}

void Game::place(PlayerId who, plan::WaypointId at, flow::RunId) {
    for (std::uint32_t number = 0; number < travellers_.size(); ++number) {
        if (who && who.value != number) continue;
        OnFoot& traveller = travellers_[number];
        if (traveller.moving) triggers_.movement_changed();
        traveller = {};
        traveller.at = at;
        placed_[number] = true;
        stand_inside(PlayerId{number}, at);
    }
    near_.rejudge();
}

std::size_t Game::pick(PlayerId player, const plan::ChooseStep& choose) {
    const std::size_t number = choices_.size();
    choices_.push_back(choose.branches.size());
    const std::size_t branch = number < picks_.size() ? picks_[number] : 0;
    log_.taken.push_back({&choose, branch, player});
    return branch;
}

void Game::veil_changed(plan::VeilId veil, bool up) {
    remember(up ? MoveLog::Memory::Kind::veil_up : MoveLog::Memory::Kind::veil_down, veil.value);
    frames_changed_ = true;
    triggers_.veils_changed();
}

void Game::note(const flow::Event& note) {
    carried_.note(note, cause_of(note.run), flow_.facts());
    if (note.kind == flow::EventKind::started) {
        const plan::ListId list{note.detail};
        list_of_run_.resize(note.run.value - first_run_ + 1);
        list_of_run_[note.run.value - first_run_] = list;
        log_.lists.push_back(list);
        return;
    }
    if (note.kind == flow::EventKind::waits) {
        began_to_wait_ = true;
        return;
    }
    log_.notes.push_back({note.kind, list_of(note.run), note.detail, note.place});
}

plan::ListId Game::list_of(flow::RunId run) const {
    if (!run || run.value < first_run_ || run.value - first_run_ >= list_of_run_.size()) return {};
    return list_of_run_[run.value - first_run_];
}

flow::CarryCause Game::cause_of(flow::RunId run) const {
    const auto near = std::find_if(near_runs_.begin(), near_runs_.end(),
                                   [&](const auto& each) { return each.first == run; });
    return {list_of(run), near == near_runs_.end() ? LevelId{} : near->second};
}

// --- who comes first ------------------------------------------------------

bool Game::order_matters(plan::TriggerId trigger, const std::vector<PlayerId>& players) const {
    return by_player_[trigger] && any_differ(players);
}

/// Whether any of several players of one kind could not stand for another just now.
bool Game::any_differ(const std::vector<PlayerId>& players) const {
    for (std::size_t one = 0; one < players.size(); ++one) {
        for (std::size_t other = one + 1; other < players.size(); ++other) {
            const bool of_one_kind = kinds_[players[one].value] == kinds_[players[other].value];
            if (of_one_kind && !alike(players[one], players[other])) return true;
        }
    }
    return false;
}

/// What is asked about them, is asked about where they are, and what they have of their own.
bool Game::alike(PlayerId one, PlayerId other) const {
    bool facts = true;
    for (const plan::FactId fact : plan_->facts.ids()) {
        if (plan_->facts[fact].of_each)
            facts = flow_.facts().value(fact, one) == flow_.facts().value(fact, other) && facts;
    }
    asked_where_[one.value] = asked_where_[other.value] = true;
    if (!facts || travellers_[one.value].moving != travellers_[other.value].moving ||
        player(one) != player(other) || !triggers_.alike(one, other))
        return false;
    std::vector<PlayerId> exchanged;
    for (std::uint32_t number = 0; number < travellers_.size(); ++number)
        exchanged.emplace_back(number);
    std::swap(exchanged[one.value], exchanged[other.value]);
    const flow::State state = flow_.state();
    return renamed(state, exchanged) == state;
}

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

// --- from situation to situation ---------------------------------------------

void Game::resume(const std::vector<LevelThere>& levels, const flow::State& settled) {
    levels_.clear();
    leaving_.clear();
    arriving_.clear();
    events_.clear();
    alarms_ = {};
    now_ = {};
    moment_ = {};
    asked_order_ = {};
    restore(levels_, levels, settled);
    rules_.levels_changed();
    began_to_wait_ = false;
    frames_changed_ = false;
    shown_since_.clear();
    for (const LevelThere& there : levels) {
        if (there.leaving) leaving_.insert(there.level);
        if (there.pending)
            arriving_.insert({Priority::soon, levels_[there.level].turn.asked, there.level});
    }
    booted_ = true;
    first_run_ = flow_.number_transition().value + 1;
    list_of_run_.clear();
    near_runs_.clear();
    awaited_.clear();
    for (const flow::RunState& running : settled.runs) {
        list_of_run_.push_back(running.list);
        awaited_.insert(awaited_.end(), running.levels.begin(), running.levels.end());
        for (const plan::GroupId group : running.any_of) {
            const std::vector<LevelId>& any_of = plan_->groups[group].levels;
            awaited_.insert(awaited_.end(), any_of.begin(), any_of.end());
        }
    }
    if (settled.switching) {
        const std::vector<LevelId>& family = settled.switching->family;
        awaited_.insert(awaited_.end(), family.begin(), family.end());
    }
    flow_.resume(settled);
    placed_.assign(placed_.size(), false);
    picks_.clear();
    choices_.clear();
    asked_for_speed_ = false;
    order_mattered_ = false;
    log_ = {};
}

void Game::resume(PlayerId player, const PlayerNow& now) {
    triggers_.resume(player, now.standing);
    OnFoot& traveller = travellers_[player.value];
    traveller = {};
    if (!now.on_the_way()) {
        traveller.at = now.at;
        return;
    }
    set_out_along(*plan_, traveller, now.leg, now.speed);
    traveller.corner = now.corner;
    measure_piece(*plan_, zones_, triggers_.inside(player), traveller);
    traveller.walked = now.walked;
    traveller.crossings = now.crossings;
    traveller.next_crossing = 0;
}

void Game::resumed() {
    triggers_.resume_judged();
    asked_zones_.forget();
    touched_.forget();
    for (const LevelId level : awaited_) touched_.note(level);
    carried_.begin(flow_.facts());
    triggers_.take_once_asked();
    asked_where_.assign(asked_where_.size(), false);
}

std::vector<LevelThere> Game::levels() const {
    std::vector<LevelThere> there;
    for (const LevelId level : levels_.asked()) {
        const loading::LevelNow& state = levels_[level];
        const bool blocked = state.blocked && pace_ == Pace::hurried;
        there.push_back({level, state.shown, state.wanted, !state.arrived, blocked, false});
    }
    for (const LevelId level : leaving_) there.push_back({level, false, false, false, false, true});
    std::sort(there.begin(), there.end());
    return there;
}

PlayerNow Game::player(PlayerId player) const {
    const OnFoot& traveller = travellers_[player.value];
    PlayerNow now;
    now.standing = triggers_.standing(player);
    if (!traveller.on_the_way()) {
        now.at = traveller.at;
        return now;
    }
    now.leg = traveller.legs[traveller.leg];
    now.speed = traveller.speed;
    now.corner = traveller.corner;
    now.walked = traveller.walked;
    now.crossings.assign(traveller.crossings.begin() +
                             static_cast<std::ptrdiff_t>(traveller.next_crossing),
                         traveller.crossings.end());
    return now;
}

} // namespace hestrel::explore
