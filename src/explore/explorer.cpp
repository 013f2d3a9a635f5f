#include "explore/explorer.hpp"

#include "explore/written.hpp"
#include "plan/jobs.hpp"

#include <algorithm>
#include <atomic>
#include <set>

namespace hestrel::explore {

using flow::PlayerId;
using plan::LevelId;

namespace {

/// Situations looked at together: what is not remembered of their moves is worked out at once.
constexpr std::size_t block_size = 4'096;
/// So few moves are worked out sooner by one thread.
constexpr std::size_t few = 64;

std::vector<plan::PlayerKindId> players_of(const plan::Plan& plan) {
    std::vector<plan::PlayerKindId> kinds;
    for (const plan::PlayerKindId kind : plan.players.ids())
        kinds.insert(kinds.end(), plan.players[kind].count, kind);
    if (kinds.empty()) kinds.emplace_back();
    return kinds;
}

void ask_for(FewBits& bits, const Field& field, const Word* row) {
    for (Bits& each : bits) {
        if (each.word != field.word) continue;
        each.mask |= field.mask();
        each.value = row[field.word] & each.mask;
        return;
    }
    bits.push_back({field.word, field.mask(), row[field.word] & field.mask()});
}

/// All that a log holds beside itself.
std::size_t bytes_of(const MoveLog& log) {
    const auto of = [](const auto& list) { return list.size() * sizeof(list[0]); };
    std::size_t bytes = of(log.memory) + of(log.families) + of(log.lists) + of(log.asked) +
                        of(log.unloaded) + of(log.shown) + of(log.notes) + of(log.taken);
    for (const auto& family : log.families) bytes += of(family);
    return bytes;
}

} // namespace

// --- the beginning
// -----------------------------------------------------------------------------------

Explorer::Explorer(const plan::Plan& plan, Options options)
    : plan_(&plan), options_(std::move(options)), kinds_(players_of(plan)),
      layout_(plan, kinds_.size()), zones_(plan), rows_(layout_.words),
      moves_(plan, kinds_, options_.pace, options_.most_running),
      tree_(plan::level_tree(plan.levels)), rule_broken_(plan.rules.size(), false),
      came_true_(plan.conditions.size(), false), triers_(std::max(1U, options_.jobs)) {
    find_start();
    for (const plan::DeviceId device : options_.devices) bounds_.emplace_back(plan, device, kinds_);
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

// --- from a row to its parts, and back
// ------------------------------------------------------------------

Unpacked Explorer::unpacked(const Word* row) const {
    Unpacked parts{row, &levels_of(row), &control_of(row), {}};
    for (std::size_t player = 0; player < kinds_.size(); ++player)
        parts.players.push_back(&player_of(row, player));
    return parts;
}

Trier& Explorer::trier(std::size_t job) {
    if (!triers_[job])
        triers_[job] =
            std::make_unique<Trier>(*plan_, options_.edition, kinds_, options_.pace, layout_);
    return *triers_[job];
}

std::vector<Word> Explorer::row_of(const Way& way) {
    std::vector<Word> row = way.bits;
    layout_.levels.set(row.data(), levels_.number(written(way.levels), way.levels));
    layout_.control.set(row.data(), controls_.number(written(way.control), way.control));
    for (std::size_t player = 0; player < kinds_.size(); ++player) {
        const PlayerNow& now = way.players[player];
        layout_.players[player].set(row.data(), stands_.number(now, zones_));
        if (now.on_the_way()) layout_.on_the_way.set(row.data(), 1);
    }
    return row;
}

// --- what a move does
// ---------------------------------------------------------------------------------

/// What a move asked about, beside what its place in the tables says.
Explorer::Asked Explorer::asked_in(const Trial& trial, const Word* row, std::uint32_t mover) {
    Asked asked;
    for (const plan::FactId fact : trial.facts.now)
        ask_for(asked.bits, layout_.facts[fact].field, row);
    for (const plan::FactId fact : trial.facts.saved)
        ask_for(asked.bits, layout_.saved[fact].field, row);
    for (const plan::TriggerId trigger : trial.once)
        ask_for(asked.bits, layout_.spent[trigger], row);
    for (std::uint32_t player = 0; player < kinds_.size(); ++player) {
        if (player == mover) continue; // its place is known
        const Field& field = layout_.players[player];
        const auto stand = static_cast<std::uint32_t>(field.get(row));
        const std::vector<flow::ZoneId>& zones = trial.zones[player];
        if (stands_[stand].on_the_way() || (!zones.empty() && !Stands::told_by_kind(stand))) {
            ask_for(asked.bits, field, row);
        } else if (!zones.empty()) {
            const std::uint32_t set = stands_.zone_set(zones);
            asked.inside.push_back({player, set, stands_.part(set, stand >> Stands::place_bits)});
        }
    }
    return asked;
}

/// The bits that a move writes. Where a player was placed that is all that says where it is,
/// wherever it was; where it came to be elsewhere in another way, the move asks for where it was.
FewBits Explorer::writes_of(const Move& move, const Way& way, const Word* row,
                            const std::vector<Word>& after, FewBits& guards) const {
    std::vector<Word> changed(layout_.words);
    for (std::size_t word = 0; word < changed.size(); ++word)
        changed[word] = row[word] ^ after[word];
    for (std::uint32_t player = 0; player < kinds_.size(); ++player) {
        const Field& field = layout_.players[player];
        if (way.placed[player]) {
            changed[field.word] |= field.mask();
        } else if (field.get(row) != field.get(after.data()) &&
                   (move.kind != Move::Kind::go || move.player.value != player)) {
            ask_for(guards, field, row);
        }
    }
    FewBits writes;
    for (std::uint32_t word = 0; word < layout_.words; ++word) {
        if (changed[word] != 0)
            writes.push_back({word, changed[word], after[word] & changed[word]});
    }
    return writes;
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
    effect_bytes_ += sizeof(Effect) + bytes_of(effect.log);
    effects_.push_back(std::move(effect));
    return static_cast<std::uint32_t>(effects_.size() - 1);
}

/// That nothing went on.
std::uint32_t Explorer::quiet_effect(std::uint32_t situation, std::uint32_t taken) {
    const Word* row = rows_[situation];
    const auto [found, fresh] = quiet_effects_.try_emplace(row[0], 0);
    if (fresh) {
        Effect effect;
        effect.levels_before = static_cast<std::uint32_t>(layout_.levels.get(row));
        effect.uses = uses_of(effect.levels_before, control_of(row), {});
        effect.first = situation;
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
    const Move& going = moves_.all()[move];
    flow::Traveller traveller;
    traveller.at = to.at;
    set_out_along(*plan_, traveller, going.leg,
                  plan_->players[kinds_[going.player.value]].speeds[going.speed].metres_per_second);
    std::set<flow::ZoneId> inside(to.standing.inside.begin(), to.standing.inside.end());
    do {
        measure_piece(*plan_, zones_, inside, traveller);
        for (const flow::Crossing& crossing : traveller.crossings) {
            const flow::Zone& zone = zones_[crossing.zone];
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
    const std::uint32_t number = stands_.number(to, zones_);
    quiet_[key] = number;
    return number;
}

/// A move on which nothing can happen needs no interpreter.
bool Explorer::work_out_quietly(std::uint32_t number, std::uint32_t situation, Case& worked) {
    const Move& move = moves_.all()[number];
    if (move.kind != Move::Kind::go || moves_.asks_for_speed()) return false;
    const Word* row = rows_[situation];
    const Field& field = layout_.players[move.player.value];
    const auto stand = static_cast<std::uint32_t>(field.get(row));
    const std::uint32_t to = quietly(number, stand);
    if (to == UINT32_MAX) return false;
    const plan::GateId gate = plan_->paths[move.leg.path].gate;
    if (gate && !is_open(plan_->gates[gate], levels_of(row))) return true; // it can't be done
    Outcome outcome;
    outcome.first = situation;
    outcome.taken = taken_.number({number}, {number, {}});
    if (to != stand) {
        const Word mask = Word{to ^ stand} << field.shift;
        outcome.writes.push_back({field.word, mask, Word{to} << field.shift & mask});
    }
    outcome.effect = quiet_effect(situation, outcome.taken);
    worked.outcomes.push_back(std::move(outcome));
    return true;
}

/// The case of a move that was tried from a situation.
Explorer::Case Explorer::case_from(const Trial& trial, std::uint32_t move,
                                   std::uint32_t situation) {
    const Word* row = rows_[situation];
    const bool goes = moves_.all()[move].kind == Move::Kind::go;
    Case worked;
    worked.guards = asked_in(trial, row, goes ? moves_.all()[move].player.value : UINT32_MAX);
    for (const Way& way : trial.ways) {
        const std::vector<Word> after = row_of(way);
        Outcome outcome;
        outcome.first = situation;
        Written which{move};
        which.insert(which.end(), way.branches.begin(), way.branches.end());
        outcome.taken = taken_.number(std::move(which), {move, way.log.taken});
        outcome.writes = writes_of(moves_.all()[move], way, row, after, worked.guards.bits);
        Effect effect;
        effect.log = way.log;
        effect.levels_before = static_cast<std::uint32_t>(layout_.levels.get(row));
        effect.ended = way.control.ended;
        effect.first = situation;
        effect.taken = outcome.taken;
        effect.uses = uses_of(effect.levels_before, control_of(row), effect.log);
        outcome.effect = kept(std::move(effect));
        if (way.control.runs.size() > options_.most_running) {
            too_many_running_ = true;
        } else if (!way.log.endless) {
            worked.outcomes.push_back(std::move(outcome));
        }
    }
    return worked;
}

/// The case of `cases` that a situation is; null where that is not known yet.
const Explorer::Case* Explorer::find_case(const Cases& cases, const Word* row) {
    for (const Case& each : cases.cases) {
        if (fits(each.guards, row)) return &each;
    }
    return nullptr;
}

/// The same; where nothing can happen on the move, it is known from then on.
const Explorer::Case* Explorer::known_case(Cases& cases, std::uint32_t situation) {
    if (const Case* known = find_case(cases, rows_[situation])) return known;
    Case quiet;
    if (!work_out_quietly(cases.move, situation, quiet)) return nullptr;
    cases.cases.push_back(std::move(quiet));
    return &cases.cases.back();
}

/// Works out what is not known yet of the moves from a block of situations, several at once. What
/// is tried, and in which order it is remembered, does not depend on the number of threads.
void Explorer::work_out(std::uint32_t begin, std::uint32_t end) {
    struct Missing {
        Cases* cases = nullptr;
        std::uint32_t situation = 0;
    };
    std::vector<Missing> missing;
    for (std::uint32_t situation = begin; situation < end; ++situation) {
        const auto look = [&](Cases& cases) {
            if (known_case(cases, situation) == nullptr) missing.push_back({&cases, situation});
        };
        InContext& context = context_of(situation);
        for (Cases& cases : context.moves) look(cases);
        for (std::size_t player = 0; player < kinds_.size(); ++player) {
            for (Cases& cases : place_of(context, player, situation).moves) look(cases);
        }
    }
    // Of one move in one context, twice as many situations each time: most are alike.
    for (std::size_t at_most = 1; !missing.empty(); at_most *= 2) {
        std::vector<Missing> tried;
        std::unordered_map<const Cases*, std::size_t> of_cases;
        for (const Missing& each : missing) {
            if (of_cases[each.cases]++ < at_most) tried.push_back(each);
        }
        std::vector<Trial> trials(tried.size());
        const auto try_out = [&](std::size_t i, Trier& trier) {
            trials[i] = trier.try_out(moves_.all()[tried[i].cases->move],
                                      unpacked(rows_[tried[i].situation]));
        };
        if (options_.jobs > 1 && tried.size() > few) {
            std::atomic<std::size_t> next{0};
            plan::in_parallel(options_.jobs, options_.jobs, [&](std::size_t job) {
                for (std::size_t i = next++; i < tried.size(); i = next++) try_out(i, trier(job));
            });
        } else {
            for (std::size_t i = 0; i < tried.size(); ++i) try_out(i, trier(0));
        }
        for (std::size_t i = 0; i < tried.size(); ++i) {
            Cases& cases = *tried[i].cases;
            if (find_case(cases, rows_[tried[i].situation]) == nullptr)
                cases.cases.push_back(case_from(trials[i], cases.move, tried[i].situation));
        }
        std::erase_if(missing, [&](const Missing& each) {
            return find_case(*each.cases, rows_[each.situation]) != nullptr;
        });
    }
}

// --- contexts and places
// --------------------------------------------------------------------------------

Explorer::InContext& Explorer::context_of(std::uint32_t situation) {
    const Word* row = rows_[situation];
    const Word key = row[0]; // levels, control, and whether anybody is on the way
    if (key == last_context_key_) return *last_context_;
    auto& found = contexts_[key];
    if (!found) {
        found = std::make_unique<InContext>();
        found->context = {static_cast<std::uint32_t>(layout_.levels.get(row)),
                          static_cast<std::uint32_t>(layout_.control.get(row)), situation};
        found->places.resize(kinds_.size());
        found->last_stand.assign(kinds_.size(), UINT32_MAX);
        found->last_place.assign(kinds_.size(), nullptr);
        for (const std::uint32_t move : moves_.anywhere(levels_of(row), control_of(row)))
            found->moves.push_back({move, {}});
        context_order_.push_back(found.get());
    }
    last_context_key_ = key;
    last_context_ = found.get();
    return *found;
}

Explorer::AtPlace& Explorer::place_of(InContext& context, std::size_t player,
                                      std::uint32_t situation) {
    const Word* row = rows_[situation];
    const auto stand = static_cast<std::uint32_t>(layout_.players[player].get(row));
    if (context.last_stand[player] == stand) return *context.last_place[player];
    auto& found = context.places[player][stand];
    if (!found) {
        found = std::make_unique<AtPlace>();
        found->place = {context.context.levels, context.context.control, stand, situation, 0};
        const flow::Settled& control = control_of(row);
        const plan::WaypointId at = stands_[stand].at;
        if (at && !control.ended && !is_frozen(*plan_, control)) {
            for (const std::uint32_t move : moves_.of_player(player, at))
                found->moves.push_back({move, {}});
        }
        place_order_.push_back(found.get());
    }
    context.last_stand[player] = stand;
    context.last_place[player] = found.get();
    return *found;
}

void Explorer::look_at_rules(InContext& context, std::uint32_t situation) {
    const Word* row = rows_[situation];
    for (const Case& seen : context.rules) {
        if (fits(seen.guards, row)) return;
    }
    if (!at_rest(tree_, levels_of(row), control_of(row))) {
        context.rules.emplace_back(); // rules are for what has settled
        return;
    }
    Game& game = trier(0).resume(unpacked(row));
    Case seen;
    for (std::size_t number = 0; number < plan_->rules.size(); ++number) {
        const plan::Rule& rule = plan_->rules[plan::RuleId{number}];
        if (rule.when && !game.flow().holds(rule.when, 0)) continue;
        std::int64_t count = 0;
        const auto shown = [&](LevelId level) { return game.shown(level); };
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
        case plan::Rule::Kind::never: broken = game.flow().holds(rule.condition, 0); break;
        }
        if (!broken || rule_broken_[number]) continue;
        rule_broken_[number] = true;
        broken_.push_back({plan::RuleId{number}, situation});
    }
    Trial asked;
    trier(0).take_asked(asked);
    seen.guards = asked_in(asked, row, UINT32_MAX);
    context.rules.push_back(std::move(seen));
}

// --- exploring
// ----------------------------------------------------------------------------------------

/// Adds what a situation leads to. False, and nothing added, where any of its moves is to be worked
/// out first.
bool Explorer::expand(std::uint32_t situation) {
    const Word* row = rows_[situation];
    InContext& context = context_of(situation);
    // All that it leads to first, so that the places where they are looked for come near meanwhile.
    const std::size_t words = layout_.words;
    std::size_t found = 0;
    std::size_t made = 0;
    const auto lead = [&](Cases& cases) {
        const Case* known = known_case(cases, situation);
        if (known == nullptr) return false;
        for (const Outcome& outcome : known->outcomes) {
            ++made;
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
        return true;
    };
    for (Cases& cases : context.moves) {
        if (!lead(cases)) return false;
    }
    for (std::size_t player = 0; player < kinds_.size(); ++player) {
        for (Cases& cases : place_of(context, player, situation).moves) {
            if (!lead(cases)) return false;
        }
    }
    moves_made_ += made;
    for (std::size_t player = 0; player < kinds_.size(); ++player)
        ++context.last_place[player]->place.situations;
    if (!plan_->rules.empty()) look_at_rules(context, situation);
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
    if (!leads_on && dead_ends_.count++ == 0) dead_ends_.first = situation;
    return true;
}

/// The boot, with every way of taking the branches that it meets.
void Explorer::begin() {
    const auto ways = Trier::boot(*plan_, options_.edition, kinds_, options_.pace, layout_,
                                  start_level_, start_at_, came_true_);
    boot_log_ = ways.front().log;
    for (const Way& way : ways) {
        if (way.log.endless) continue;
        const std::vector<Word> start = row_of(way);
        Written which{0};
        for (const MoveLog::Taken& taken : way.log.taken)
            which.push_back(static_cast<std::uint32_t>(taken.branch));
        const auto [number, fresh] = rows_.add(start.data(), rows_.hash(start.data()));
        if (!fresh) continue;
        parents_.push_back(number);
        by_.push_back(taken_.number(std::move(which), {0, way.log.taken}));
    }
}

void Explorer::run() {
    begin();
    std::size_t end_of_level = rows_.size();
    const auto within_limits = [&] {
        return rows_.size() <= options_.most_situations &&
               bytes() + effect_bytes_ <= options_.most_bytes;
    };
    while (next_ < rows_.size() && within_limits()) {
        const auto situation = static_cast<std::uint32_t>(next_);
        if (!expand(situation)) {
            const std::size_t end = std::min(next_ + block_size, end_of_level);
            work_out(situation, static_cast<std::uint32_t>(end));
            continue;
        }
        ++next_;
        constexpr std::size_t now_and_then = 0xFFFF;
        if (options_.progress && (next_ & now_and_then) == 0)
            options_.progress(rows_.size(), rows_.size() - next_);
        if (next_ == end_of_level && next_ < rows_.size()) {
            ++depth_;
            end_of_level = rows_.size();
        }
    }
    if (edge_starts_.size() == next_)
        edge_starts_.push_back(static_cast<std::uint32_t>(edges_.size()));
    for (const auto& trier : triers_) {
        for (std::size_t condition = 0; condition < came_true_.size(); ++condition) {
            if (trier && trier->came_true()[condition]) came_true_[condition] = true;
        }
    }
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

template <class What>
void Explorer::lead(std::uint32_t situation, const Cases& cases, What&& what) {
    const Word* row = rows_[situation];
    const Case* known = find_case(cases, row);
    if (known == nullptr) return; // not visited
    std::vector<Word> after(layout_.words);
    for (const Outcome& outcome : known->outcomes) {
        std::copy(row, row + layout_.words, after.begin());
        outcome.apply(after.data());
        what(rows_.find(after.data(), rows_.hash(after.data())), outcome);
    }
}

void Explorer::for_successors(std::uint32_t situation,
                              const std::function<void(std::uint32_t, const Outcome&)>& what) {
    InContext& context = context_of(situation);
    for (const Cases& cases : context.moves) lead(situation, cases, what);
    for (std::size_t player = 0; player < kinds_.size(); ++player) {
        for (const Cases& cases : place_of(context, player, situation).moves)
            lead(situation, cases, what);
    }
}

void Explorer::for_wanted(
    const std::function<bool(const Effect&)>& wanted,
    const std::function<void(std::uint32_t, std::uint32_t, const Outcome&)>& what) {
    // Most moves never do what is wanted, wherever they are made.
    const auto can = [&](const Cases& cases) {
        return std::any_of(cases.cases.begin(), cases.cases.end(), [&](const Case& each) {
            return std::any_of(
                each.outcomes.begin(), each.outcomes.end(),
                [&](const Outcome& outcome) { return wanted(effects_[outcome.effect]); });
        });
    };
    std::unordered_map<const void*, std::vector<const Cases*>> by_place; // or context
    const auto note = [&](const void* where, const std::vector<Cases>& moves) {
        for (const Cases& cases : moves) {
            if (can(cases)) by_place[where].push_back(&cases);
        }
    };
    for (const InContext* context : context_order_) note(context, context->moves);
    for (const AtPlace* place : place_order_) note(place, place->moves);
    for (std::uint32_t situation = 0; situation < visited(); ++situation) {
        const auto look = [&](const void* where) {
            const auto found = by_place.find(where);
            if (found == by_place.end()) return;
            for (const Cases* cases : found->second) {
                lead(situation, *cases, [&](std::uint32_t next, const Outcome& outcome) {
                    if (wanted(effects_[outcome.effect])) what(situation, next, outcome);
                });
            }
        };
        InContext& context = context_of(situation);
        look(&context);
        for (std::size_t player = 0; player < kinds_.size(); ++player)
            look(&place_of(context, player, situation));
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
