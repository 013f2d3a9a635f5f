#include "explore/explorer.hpp"

#include <algorithm>
#include <set>

namespace hestrel::explore {

using flow::PlayerId;
using plan::LevelId;

namespace {

/// Of taking branches in one move.
constexpr std::size_t most_ways = 10'000;
/// Where a move goes round in a circle, other branches are tried at so many of its first choices.
constexpr std::size_t most_in_circle = 4;

std::vector<plan::PlayerKindId> players_of(const plan::Plan& plan) {
    std::vector<plan::PlayerKindId> kinds;
    for (const plan::PlayerKindId kind : plan.players.ids())
        kinds.insert(kinds.end(), plan.players[kind].count, kind);
    if (kinds.empty()) kinds.emplace_back();
    return kinds;
}

/// Whether any condition asks how fast a player moves.
bool asks_for_speed(const plan::Plan& plan) {
    return std::any_of(plan.conditions.begin(), plan.conditions.end(),
                       [](const plan::Condition& condition) {
                           return std::any_of(condition.terms.begin(), condition.terms.end(),
                                              [](const plan::Term& term) {
                                                  return term.operation == plan::Operation::speed;
                                              });
                       });
}

/// Whether it matters to a list who fired it.
bool depends_on_firer(const plan::StepList& list) {
    return std::any_of(list.steps.begin(), list.steps.end(), [](const plan::Step& step) {
        if (const auto* veil = std::get_if<plan::VeilStep>(&step.what))
            return veil->who == plan::Who::firer;
        if (const auto* unveil = std::get_if<plan::UnveilStep>(&step.what))
            return unveil->who == plan::Who::firer;
        if (const auto* place = std::get_if<plan::PlaceStep>(&step.what))
            return place->who == plan::Who::firer;
        if (const auto* wait = std::get_if<plan::WaitStep>(&step.what))
            return static_cast<bool>(wait->until); // which can ask how fast it moves
        return std::holds_alternative<plan::ChooseStep>(step.what) ||
               std::holds_alternative<plan::ReturnStep>(step.what);
    });
}

void write(Written& written, const std::optional<flow::Checkpoint>& checkpoint) {
    written.push_back(checkpoint ? checkpoint->level.value : UINT32_MAX);
    written.push_back(checkpoint ? checkpoint->at.value : UINT32_MAX);
}

void write(Written& written, const std::vector<LevelId>& levels) {
    written.push_back(static_cast<std::uint32_t>(levels.size()));
    for (const LevelId level : levels) written.push_back(level.value);
}

void write(Written& written, const flow::Running& running) {
    written.push_back(running.list.value);
    written.push_back(static_cast<std::uint32_t>(running.frames.size()));
    for (const flow::Frame& frame : running.frames) {
        written.push_back(frame.list.value);
        written.push_back(static_cast<std::uint32_t>(frame.next));
    }
    written.push_back(running.firer.value);
    written.push_back((running.timed ? 1U : 0U) | (running.gives_up ? 2U : 0U));
    written.push_back(running.until.value);
    written.push_back(static_cast<std::uint32_t>(running.awaited));
    write(written, running.levels);
}

void write(Written& written, const flow::Switching& switching) {
    const plan::SwitchStep& step = switching.step;
    for (const std::uint32_t number :
         {step.to.value, step.at.value, step.veil.value, static_cast<std::uint32_t>(step.order),
          (step.blocking ? 1U : 0U) | (step.reuse ? 2U : 0U) |
              (switching.target_was_loaded ? 4U : 0U),
          static_cast<std::uint32_t>(switching.stage),
          switching.position ? static_cast<std::uint32_t>(*switching.position) : UINT32_MAX})
        written.push_back(number);
    write(written, step.with);
    write(written, switching.family);
}

/// What is going on where players hurry.
void write(Written& written, const flow::Settled& settled) {
    if (settled.runs.empty() && !settled.switching) return;
    written.push_back(static_cast<std::uint32_t>(settled.runs.size()));
    for (const flow::Running& running : settled.runs) write(written, running);
    write(written, settled.held);
    if (!settled.switching) return;
    written.push_back(static_cast<std::uint32_t>(settled.switched_by));
    write(written, *settled.switching);
}

} // namespace

// --- numbers for what is many-sided
// ------------------------------------------------------------------

std::uint32_t Explorer::number_of(const std::vector<LevelThere>& levels) {
    Written written;
    for (const LevelThere& there : levels) {
        written.push_back(there.level.value);
        written.push_back((there.shown ? 1U : 0U) | (there.wanted ? 2U : 0U) |
                          (there.pending ? 4U : 0U) | (there.blocked ? 8U : 0U) |
                          (there.leaving ? 16U : 0U));
    }
    return levels_.number(std::move(written), levels);
}

std::uint32_t Explorer::number_of(const flow::Settled& settled) {
    Written written;
    write(written, settled.checkpoint);
    write(written, settled.saved_checkpoint);
    written.push_back(settled.position ? static_cast<std::uint32_t>(*settled.position)
                                       : UINT32_MAX);
    written.push_back((settled.has_saved ? 1U : 0U) | (settled.frozen_by_step ? 2U : 0U) |
                      (settled.ended ? 4U : 0U));
    written.push_back(static_cast<std::uint32_t>(settled.open_menus.size()));
    for (const plan::MenuId menu : settled.open_menus) written.push_back(menu.value);
    for (const auto& [veil, player] : settled.veils) {
        written.push_back(veil.value);
        written.push_back(player.value);
    }
    write(written, settled);
    return controls_.number(std::move(written), settled);
}

// --- the beginning
// -----------------------------------------------------------------------------------

Explorer::Explorer(const plan::Plan& plan, Options options)
    : plan_(&plan), options_(std::move(options)), kinds_(players_of(plan)),
      layout_(plan, kinds_.size()), game_(plan, options_.edition, kinds_, options_.pace),
      rows_(layout_.words), moves_from_(plan.waypoints.size()), moves_of_(plan.menus.size()),
      tree_(plan::level_tree(plan.levels)), rule_broken_(plan.rules.size(), false),
      came_true_(plan.conditions.size(), false) {
    find_start();
    list_moves();
    if (options_.pace == Pace::hurried) list_meanwhile();
    for (const plan::DeviceId device : options_.devices) bounds_.emplace_back(plan, device, kinds_);
    game_.flow().record_true(&came_true_);
}

Explorer::~Explorer() = default;

void Explorer::find_start() {
    if (options_.edition) {
        start_level_ = plan_->editions[options_.edition].levels.front();
        const auto& entries = plan_->levels[start_level_].entries;
        if (!entries.empty()) start_at_ = entries.front().waypoint;
        return;
    }
    const plan::Route& route = plan_->routes[plan::RouteId{0}];
    start_level_ = route.start_level;
    start_at_ = route.start_at;
}

void Explorer::list_moves() {
    asks_for_speed_ = asks_for_speed(*plan_);
    moves_.push_back({Move::Kind::boot, PlayerId{0}, {}, 0, {}, {}, {}, 0});
    for (std::uint32_t player = 0; player < kinds_.size(); ++player) {
        const std::size_t speeds =
            kinds_[player] ? plan_->players[kinds_[player]].speeds.size() : 0;
        for (const plan::PathId path : plan_->paths.ids()) {
            for (const bool forward : {true, false}) {
                if (!forward && plan_->paths[path].one_way) continue;
                const geometry::Leg leg{path, forward};
                for (std::size_t speed = 0;
                     speed < (asks_for_speed_ ? speeds : std::min<std::size_t>(speeds, 1));
                     ++speed) {
                    moves_from_[geometry::start_of(*plan_, leg)].push_back(
                        static_cast<std::uint32_t>(moves_.size()));
                    moves_.push_back({Move::Kind::go, PlayerId{player}, leg, speed, {}, {}, {}, 0});
                }
            }
        }
    }
    for (const plan::MenuId menu : plan_->menus.ids()) {
        for (const plan::ItemId item : plan_->menus[menu].items) {
            const bool by_any = depends_on_firer(plan_->lists[plan_->items[item].steps]);
            for (std::uint32_t player = 0; player < (by_any ? kinds_.size() : 1); ++player) {
                moves_of_[menu].push_back(static_cast<std::uint32_t>(moves_.size()));
                moves_.push_back({Move::Kind::press, PlayerId{player}, {}, 0, item, menu, {}, 0});
            }
        }
        if (!plan_->menus[menu].after) continue;
        moves_of_[menu].push_back(static_cast<std::uint32_t>(moves_.size()));
        moves_.push_back({Move::Kind::after, PlayerId{0}, {}, 0, {}, menu, {}, 0});
    }
}

/// What goes on where players hurry: which of it can, a context says.
void Explorer::list_meanwhile() {
    const auto next = [&] { return static_cast<std::uint32_t>(moves_.size()); };
    const auto add = [&](Move::Kind kind, LevelId level, std::size_t run) {
        moves_.push_back({kind, PlayerId{0}, {}, 0, {}, {}, level, run});
    };
    meanwhile_.arrive = next();
    for (const LevelId level : plan_->levels.ids()) add(Move::Kind::arrive, level, 0);
    meanwhile_.attach = next();
    for (const LevelId level : plan_->levels.ids()) add(Move::Kind::attach, level, 0);
    meanwhile_.wake = next();
    for (std::size_t run = 0; run <= options_.most_running; ++run) add(Move::Kind::wake, {}, run);
    meanwhile_.attach_block = next();
    add(Move::Kind::attach_block, {}, 0);
    meanwhile_.sweep = next();
    add(Move::Kind::sweep, {}, 0);
    meanwhile_.drop = next();
    add(Move::Kind::drop, {}, 0);
}

void Explorer::add_meanwhile(InContext& context) const {
    const auto& levels = levels_[context.context.levels];
    const flow::Settled& control = controls_[context.context.control];
    if (control.ended) return;
    bool leaves = false;
    const auto add = [&](std::uint32_t move) { context.moves.push_back({move, {}}); };
    for (const LevelThere& there : levels) {
        if (there.pending) add(meanwhile_.arrive + there.level.value);
        leaves = leaves || there.leaving;
    }
    for (const LevelId level : attachable(tree_, levels)) add(meanwhile_.attach + level.value);
    if (block_attachable(tree_, levels)) add(meanwhile_.attach_block);
    for (std::uint32_t run = 0; run < control.runs.size(); ++run) {
        const bool lifts = control.switching && control.switched_by == run &&
                           control.switching->stage == flow::SwitchStage::lifting;
        if (control.runs[run].timed || lifts) add(meanwhile_.wake + run);
    }
    const bool lifts_alone = control.switching && control.switched_by >= control.runs.size() &&
                             control.switching->stage == flow::SwitchStage::lifting;
    if (lifts_alone) add(meanwhile_.wake + static_cast<std::uint32_t>(control.runs.size()));
    if (leaves) add(meanwhile_.sweep);
    if (!control.runs.empty()) add(meanwhile_.drop);
}

// --- from a row to the game, and back
// ------------------------------------------------------------------

void Explorer::resume(const Word* row) {
    const flow::Settled& control = control_of(row);
    flow::Facts& facts = game_.flow().facts();
    facts.record(nullptr);
    for (const plan::FactId fact : plan_->facts.ids())
        facts.resume(fact, layout_.facts[fact].get(row));
    if (control.has_saved) {
        flow::SavedStore store;
        store.checkpoint = control.saved_checkpoint;
        for (const plan::FactId fact : plan_->facts.ids())
            store.facts.push_back(flow::fact_value(plan_->facts[fact].initial));
        for (const plan::FactId fact : layout_.saved_facts)
            store.facts[fact.value] = layout_.saved[fact].get(row);
        facts.resume_saved(std::move(store));
    } else {
        facts.resume_saved(std::nullopt);
    }
    for (const plan::TriggerId trigger : layout_.once_triggers)
        game_.triggers().set_spent(trigger, layout_.spent[trigger].get(row) != 0);
    game_.resume(levels_of(row), control);
    for (std::uint32_t player = 0; player < kinds_.size(); ++player)
        game_.resume(PlayerId{player}, player_of(row, player));
    game_.resumed();
    facts.record(&asked_);
    asked_.now.clear();
    asked_.saved.clear();
}

std::vector<Word> Explorer::row_of(Game& game) {
    std::vector<Word> row(layout_.words, 0);
    flow::Facts& facts = game.flow().facts();
    facts.record(nullptr);
    const flow::Settled settled = game.flow().settled();
    layout_.levels.set(row.data(), number_of(game.levels()));
    layout_.control.set(row.data(), number_of(settled));
    for (std::uint32_t player = 0; player < kinds_.size(); ++player) {
        const PlayerNow now = game.player(PlayerId{player});
        layout_.players[player].set(row.data(), stands_.number(now, game.zones()));
        if (now.on_the_way()) layout_.on_the_way.set(row.data(), 1);
    }
    for (const plan::FactId fact : plan_->facts.ids())
        layout_.facts[fact].set(row.data(), facts[fact]);
    for (const plan::FactId fact : layout_.saved_facts) {
        layout_.saved[fact].set(row.data(), facts.saved()
                                                ? facts.saved()->facts[fact.value]
                                                : flow::fact_value(plan_->facts[fact].initial));
    }
    for (const plan::TriggerId trigger : layout_.once_triggers)
        layout_.spent[trigger].set(row.data(), game.triggers().spent(trigger) ? 1 : 0);
    return row;
}

// --- what a move does
// ---------------------------------------------------------------------------------

namespace {

void ask_for(FewBits& bits, const Field& field, const Word* row) {
    for (Bits& each : bits) {
        if (each.word != field.word) continue;
        each.mask |= field.mask();
        each.value = row[field.word] & each.mask;
        return;
    }
    bits.push_back({field.word, field.mask(), row[field.word] & field.mask()});
}

} // namespace

/// What the last move asked about, beside what its place in the tables says.
void Explorer::add_asked(Asked& asked, const Word* row, std::uint32_t mover) {
    for (const plan::FactId fact : asked_.now) ask_for(asked.bits, layout_.facts[fact].field, row);
    for (const plan::FactId fact : asked_.saved)
        ask_for(asked.bits, layout_.saved[fact].field, row);
    for (const plan::TriggerId trigger : game_.triggers().take_once_asked())
        ask_for(asked.bits, layout_.spent[trigger], row);
    for (std::uint32_t player = 0; player < kinds_.size(); ++player) {
        if (player == mover) continue; // its place is known
        const Field& field = layout_.players[player];
        const auto stand = static_cast<std::uint32_t>(field.get(row));
        const std::vector<flow::ZoneId> zones = game_.triggers().asked_zones(PlayerId{player});
        if (stands_[stand].on_the_way() || (!zones.empty() && !Stands::told_by_kind(stand))) {
            ask_for(asked.bits, field, row);
        } else if (!zones.empty()) {
            const std::uint32_t set = stands_.zone_set(zones);
            const std::uint32_t part = stands_.part(set, stand >> Stands::place_bits);
            const bool known =
                std::any_of(asked.inside.begin(), asked.inside.end(), [&](const Inside& each) {
                    return each.player == player && each.zone_set == set;
                });
            if (!known) asked.inside.push_back({player, set, part});
        }
    }
}

/// The bits that a move writes. Where a player was placed that is all that says where it is,
/// wherever it was; where it came to be elsewhere in another way, the move asks for where it was.
std::vector<Word> Explorer::changed_bits(const Move& move, const Word* row,
                                         const std::vector<Word>& after, FewBits& guards) const {
    std::vector<Word> changed(layout_.words);
    for (std::size_t word = 0; word < changed.size(); ++word)
        changed[word] = row[word] ^ after[word];
    for (std::uint32_t player = 0; player < kinds_.size(); ++player) {
        const Field& field = layout_.players[player];
        if (game_.placed(PlayerId{player})) {
            changed[field.word] |= field.mask();
        } else if (field.get(row) != field.get(after.data()) &&
                   (move.kind != Move::Kind::go || move.player.value != player)) {
            ask_for(guards, field, row);
        }
    }
    return changed;
}

/// Memory during a move; moves that ask for and release the same from the same levels share it.
std::uint32_t Explorer::uses_of(std::uint32_t levels, const flow::Settled& before,
                                const MoveLog& log) {
    const std::vector<plan::VeilId> veils = veils_up(before);
    Written written{levels, static_cast<std::uint32_t>(veils.size())};
    for (const plan::VeilId veil : veils) written.push_back(veil.value);
    bool anything = false; // since all had settled last
    for (const MoveLog::Memory& each : log.memory) {
        if (each.kind == MoveLog::Memory::Kind::settled && !anything) continue;
        anything = each.kind != MoveLog::Memory::Kind::settled;
        written.push_back(static_cast<std::uint32_t>(each.kind));
        written.push_back(each.index);
        if (each.kind != MoveLog::Memory::Kind::released) continue;
        for (const LevelId level : log.families[each.index]) written.push_back(level.value);
    }
    if (const auto known = uses_.find(written)) return *known;
    std::vector<Use> uses;
    for (const Bounds& bounds : bounds_) uses.push_back(bounds.during(levels_[levels], veils, log));
    return uses_.number(std::move(written), uses);
}

std::uint32_t Explorer::kept(Effect effect) {
    effects_.push_back(std::move(effect));
    return static_cast<std::uint32_t>(effects_.size() - 1);
}

/// That nothing went on.
std::uint32_t Explorer::quiet_effect(const Word* row, std::uint32_t taken) {
    const auto [found, fresh] = quiet_effects_.try_emplace(row[0], 0);
    if (fresh) {
        Effect effect;
        effect.levels_before = static_cast<std::uint32_t>(layout_.levels.get(row));
        effect.uses = uses_of(effect.levels_before, control_of(row), {});
        effect.first = static_cast<std::uint32_t>(next_);
        effect.taken = taken;
        found->second = kept(std::move(effect));
    }
    return found->second;
}

/// Where a player gets to who meets no trigger and comes near no level that streams; nowhere known
/// where it meets any. That depends on nothing else.
std::uint32_t Explorer::quietly(std::uint32_t move, std::uint32_t stand) {
    const Word key = Word{move} << 32 | stand;
    const auto [found, fresh] = quiet_.try_emplace(key, UINT32_MAX);
    if (!fresh) return found->second;
    PlayerNow to = stands_[stand];
    flow::Traveller traveller;
    traveller.at = to.at;
    set_out_along(*plan_, traveller, moves_[move].leg, game_.speed_of_move(moves_[move]));
    std::set<flow::ZoneId> inside(to.standing.inside.begin(), to.standing.inside.end());
    do {
        measure_piece(*plan_, game_.zones(), inside, traveller);
        for (const flow::Crossing& crossing : traveller.crossings) {
            const flow::Zone& zone = game_.zones()[crossing.zone];
            if (zone.kind != flow::Zone::Kind::area && zone.kind != flow::Zone::Kind::seen)
                return UINT32_MAX;
            if (crossing.enters) {
                inside.insert(crossing.zone);
            } else {
                inside.erase(crossing.zone);
            }
        }
    } while (next_piece(*plan_, traveller));
    to.at = traveller.goal;
    to.standing.inside.assign(inside.begin(), inside.end());
    const std::uint32_t number = stands_.number(to, game_.zones());
    quiet_[key] = number;
    return number;
}

/// A move on which nothing can happen needs no interpreter.
bool Explorer::work_out_quietly(std::uint32_t number, const Word* row, Case& worked) {
    const Move& move = moves_[number];
    if (move.kind != Move::Kind::go || asks_for_speed_) return false;
    const Field& field = layout_.players[move.player.value];
    const auto stand = static_cast<std::uint32_t>(field.get(row));
    const std::uint32_t to = quietly(number, stand);
    if (to == UINT32_MAX) return false;
    const plan::GateId gate = plan_->paths[move.leg.path].gate;
    if (gate && !is_open(plan_->gates[gate], levels_of(row))) return true; // it can't be done
    Outcome outcome;
    outcome.first = static_cast<std::uint32_t>(next_);
    outcome.taken = taken_.number({number}, {number, {}});
    if (to != stand) {
        const Word mask = Word{to ^ stand} << field.shift;
        outcome.writes.push_back({field.word, mask, Word{to} << field.shift & mask});
    }
    outcome.effect = quiet_effect(row, outcome.taken);
    worked.outcomes.push_back(std::move(outcome));
    return true;
}

Explorer::Case Explorer::work_out(std::uint32_t move, const Word* row) {
    Case worked;
    if (work_out_quietly(move, row, worked)) return worked;
    const auto first = static_cast<std::uint32_t>(next_);
    std::vector<std::size_t> picks;
    for (std::size_t ways = 0; ways < most_ways; ++ways) {
        resume(row);
        const bool done = game_.perform(moves_[move], picks);
        const std::vector<Word> after = row_of(game_);
        const bool goes = moves_[move].kind == Move::Kind::go;
        add_asked(worked.guards, row, goes ? moves_[move].player.value : UINT32_MAX);
        if (!done) return worked;
        Outcome outcome;
        outcome.first = first;
        Written written{move};
        std::vector<std::size_t> taken = picks;
        taken.resize(game_.choices().size(), 0);
        written.insert(written.end(), taken.begin(), taken.end());
        outcome.taken = taken_.number(std::move(written), {move, game_.log().taken});
        const std::vector<Word> changed =
            changed_bits(moves_[move], row, after, worked.guards.bits);
        for (std::uint32_t word = 0; word < layout_.words; ++word) {
            if (changed[word] != 0)
                outcome.writes.push_back({word, changed[word], after[word] & changed[word]});
        }
        Effect effect;
        effect.log = game_.log();
        effect.levels_before = static_cast<std::uint32_t>(layout_.levels.get(row));
        effect.ended = game_.flow().ended();
        effect.first = first;
        effect.taken = outcome.taken;
        effect.uses = uses_of(effect.levels_before, control_of(row), effect.log);
        outcome.effect = kept(std::move(effect));
        if (control_of(after.data()).runs.size() > options_.most_running) {
            too_many_running_ = true;
        } else if (!game_.log().endless) {
            worked.outcomes.push_back(std::move(outcome));
        }
        if (!next_picks(picks, choices_of(game_))) break;
    }
    return worked;
}

const Explorer::Case& Explorer::case_of(Cases& cases, const Word* row) {
    for (const Case& each : cases.cases) {
        if (fits(each.guards, row)) return each;
    }
    cases.cases.push_back(work_out(cases.move, row));
    return cases.cases.back();
}

// --- contexts and places
// --------------------------------------------------------------------------------

Explorer::InContext& Explorer::context_of(const Word* row) {
    const Word key = row[0]; // levels, control, and whether anybody is on the way
    if (key == last_context_key_) return *last_context_;
    auto& found = contexts_[key];
    if (!found) {
        found = std::make_unique<InContext>();
        found->context = {static_cast<std::uint32_t>(layout_.levels.get(row)),
                          static_cast<std::uint32_t>(layout_.control.get(row)),
                          static_cast<std::uint32_t>(next_)};
        found->places.resize(kinds_.size());
        found->last_stand.assign(kinds_.size(), UINT32_MAX);
        found->last_place.assign(kinds_.size(), nullptr);
        const flow::Settled& control = control_of(row);
        if (!control.ended) {
            for (const plan::MenuId menu : control.open_menus) {
                for (const std::uint32_t move : moves_of_[menu]) {
                    found->moves.push_back({move, {}});
                }
            }
        }
        if (options_.pace == Pace::hurried) add_meanwhile(*found);
        context_order_.push_back(found.get());
    }
    last_context_key_ = key;
    last_context_ = found.get();
    return *found;
}

Explorer::AtPlace& Explorer::place_of(InContext& context, std::size_t player, const Word* row) {
    const auto stand = static_cast<std::uint32_t>(layout_.players[player].get(row));
    if (context.last_stand[player] == stand) return *context.last_place[player];
    auto& found = context.places[player][stand];
    if (!found) {
        found = std::make_unique<AtPlace>();
        found->place = {context.context.levels, context.context.control, stand,
                        static_cast<std::uint32_t>(next_), 0};
        const flow::Settled& control = control_of(row);
        const plan::WaypointId at = stands_[stand].at;
        if (at && !control.ended && !is_frozen(*plan_, control)) {
            for (const std::uint32_t move : moves_from_[at]) {
                if (moves_[move].player.value != player) continue;
                found->moves.push_back({move, {}});
            }
        }
        place_order_.push_back(found.get());
    }
    context.last_stand[player] = stand;
    context.last_place[player] = found.get();
    return *found;
}

void Explorer::look_at_rules(InContext& context, const Word* row) {
    for (const Case& seen : context.rules) {
        if (fits(seen.guards, row)) return;
    }
    if (!at_rest(tree_, levels_of(row), control_of(row))) {
        context.rules.emplace_back(); // rules are for what has settled
        return;
    }
    resume(row);
    Case seen;
    for (std::size_t number = 0; number < plan_->rules.size(); ++number) {
        const plan::Rule& rule = plan_->rules[plan::RuleId{number}];
        if (rule.when && !game_.flow().holds(rule.when, 0)) continue;
        std::int64_t count = 0;
        const auto shown = [&](LevelId level) { return game_.shown(level); };
        for (const LevelThere& there : levels_of(row)) {
            const auto& provides = plan_->levels[there.level].provides;
            if (there.shown) count += std::count(provides.begin(), provides.end(), rule.of);
        }
        bool broken = false;
        switch (rule.kind) {
        case plan::Rule::Kind::exactly: broken = count != rule.count; break;
        case plan::Rule::Kind::at_least: broken = count < rule.count; break;
        case plan::Rule::Kind::at_most: broken = count > rule.count; break;
        case plan::Rule::Kind::never_together:
            broken = std::count_if(rule.levels.begin(), rule.levels.end(), shown) > 1;
            break;
        case plan::Rule::Kind::never: broken = game_.flow().holds(rule.condition, 0); break;
        }
        if (!broken || rule_broken_[number]) continue;
        rule_broken_[number] = true;
        broken_.push_back({plan::RuleId{number}, static_cast<std::uint32_t>(next_)});
    }
    add_asked(seen.guards, row, UINT32_MAX);
    context.rules.push_back(std::move(seen));
}

// --- exploring
// ----------------------------------------------------------------------------------------

void Explorer::expand(std::uint32_t situation) {
    const Word* row = rows_[situation];
    InContext& context = context_of(row);
    if (!plan_->rules.empty()) look_at_rules(context, row);
    // All that it leads to first, so that the places where they are looked for come near meanwhile.
    const std::size_t words = layout_.words;
    std::size_t found = 0;
    const auto lead = [&](Cases& cases) {
        for (const Outcome& outcome : case_of(cases, row).outcomes) {
            ++moves_made_;
            if (outcome.writes.empty()) continue;
            if (found == hashes_.size()) {
                hashes_.resize(2 * found + 1);
                by_outcome_.resize(hashes_.size());
                scratch_.resize(hashes_.size() * words);
            }
            Word* after = scratch_.data() + found * words;
            for (std::size_t word = 0; word < words; ++word) after[word] = row[word];
            outcome.apply(after);
            if (std::equal(row, row + words, after)) continue; // placed where they were
            hashes_[found] = rows_.hash(after);
            rows_.expect(hashes_[found]);
            by_outcome_[found++] = &outcome;
        }
    };
    for (Cases& cases : context.moves) lead(cases);
    for (std::size_t player = 0; player < kinds_.size(); ++player) {
        AtPlace& place = place_of(context, player, row);
        ++place.place.situations;
        for (Cases& cases : place.moves) lead(cases);
    }
    const bool remembers =
        edge_starts_.size() == situation && edges_.size() + found <= options_.most_edges;
    if (remembers) edge_starts_.push_back(static_cast<std::uint32_t>(edges_.size()));
    const bool leads_on =
        found > 0 || control_of(row).ended || !at_rest(tree_, levels_of(row), control_of(row));
    for (std::size_t i = 0; i < found; ++i) {
        const auto [number, fresh] = rows_.add(scratch_.data() + i * layout_.words, hashes_[i]);
        if (remembers) edges_.push_back(number);
        if (!fresh) continue;
        parents_.push_back(situation);
        by_.push_back(by_outcome_[i]->taken);
    }
    if (leads_on) return;
    if (dead_ends_.count++ == 0) dead_ends_.first = situation;
}

/// The next way of taking branches, where the last was `picks` and each choice had so many: the
/// last choice that has a branch left takes it. False where that was all.
bool Explorer::next_picks(std::vector<std::size_t>& picks,
                          const std::vector<std::size_t>& choices) {
    picks.resize(choices.size(), 0);
    while (!picks.empty() && picks.back() + 1 == choices[picks.size() - 1]) picks.pop_back();
    if (picks.empty()) return false;
    ++picks.back();
    return true;
}

std::vector<std::size_t> Explorer::choices_of(const Game& game) {
    std::vector<std::size_t> choices = game.choices();
    if (game.log().endless) choices.resize(std::min(choices.size(), most_in_circle));
    return choices;
}

/// The boot, with every way of taking the branches that it meets.
void Explorer::begin() {
    std::vector<std::size_t> picks;
    do {
        Game game(*plan_, options_.edition, kinds_, options_.pace);
        game.flow().record_true(&came_true_);
        game.boot(start_level_, start_at_, picks);
        if (rows_.size() == 0) boot_log_ = game.log();
        if (!game.log().endless) {
            const std::vector<Word> start = row_of(game);
            Written written{0};
            for (const MoveLog::Taken& taken : game.log().taken)
                written.push_back(static_cast<std::uint32_t>(taken.branch));
            const auto [number, fresh] = rows_.add(start.data(), rows_.hash(start.data()));
            if (fresh) {
                parents_.push_back(number);
                by_.push_back(taken_.number(std::move(written), {0, game.log().taken}));
            }
        }
        if (!next_picks(picks, choices_of(game))) break;
    } while (rows_.size() < most_ways);
}

void Explorer::run() {
    begin();
    std::size_t end_of_level = rows_.size();
    while (next_ < rows_.size() && rows_.size() <= options_.most_situations &&
           bytes() <= options_.most_bytes) {
        expand(static_cast<std::uint32_t>(next_));
        ++next_;
        if (next_ == end_of_level && next_ < rows_.size()) {
            ++depth_;
            end_of_level = rows_.size();
        }
        constexpr std::size_t now_and_then = 0xFFFF;
        if (options_.progress && (next_ & now_and_then) == 0)
            options_.progress(rows_.size(), rows_.size() - next_);
    }
    if (edge_starts_.size() == next_)
        edge_starts_.push_back(static_cast<std::uint32_t>(edges_.size()));
}

std::size_t Explorer::bytes() const {
    return rows_.bytes() +
           (parents_.capacity() + by_.capacity() + edges_.capacity() + edge_starts_.capacity()) *
               sizeof(std::uint32_t);
}

std::vector<std::uint32_t> Explorer::way_to(std::uint32_t situation) const {
    std::vector<std::uint32_t> way{by_[situation]};
    while (parents_[situation] != situation) {
        situation = parents_[situation];
        way.push_back(by_[situation]);
    }
    std::reverse(way.begin(), way.end());
    return way;
}

void Explorer::for_successors(std::uint32_t situation,
                              const std::function<void(std::uint32_t, const Outcome&)>& what) {
    const Word* row = rows_[situation];
    InContext& context = context_of(row);
    std::vector<Word> after(layout_.words);
    const auto lead = [&](Cases& cases) {
        for (const Outcome& outcome : case_of(cases, row).outcomes) {
            std::copy(row, row + layout_.words, after.begin());
            outcome.apply(after.data());
            what(rows_.find(after.data(), rows_.hash(after.data())), outcome);
        }
    };
    for (Cases& cases : context.moves) lead(cases);
    for (std::size_t player = 0; player < kinds_.size(); ++player) {
        for (Cases& cases : place_of(context, player, row).moves) lead(cases);
    }
}

void Explorer::for_outcomes(const std::function<void(const Outcome&)>& what) const {
    const auto of = [&](const Cases& cases) {
        for (const Case& each : cases.cases) {
            for (const Outcome& outcome : each.outcomes) what(outcome);
        }
    };
    for (const InContext* context : context_order_) {
        for (const Cases& cases : context->moves) of(cases);
    }
    for (const AtPlace* place : place_order_) {
        for (const Cases& cases : place->moves) of(cases);
    }
}

std::vector<Explorer::Context> Explorer::contexts() const {
    std::vector<Context> all;
    for (const InContext* context : context_order_) all.push_back(context->context);
    return all;
}

std::vector<Explorer::Place> Explorer::places() const {
    std::vector<Place> all;
    for (const AtPlace* place : place_order_) all.push_back(place->place);
    return all;
}

} // namespace hestrel::explore
