#include "explore/memo_builder.hpp"

#include "plan/lists.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <set>
#include <utility>

namespace hestrel::explore {

namespace {

/// All that a log holds beside itself.
std::size_t bytes_of(const MoveLog& log) {
    const auto of = [](const auto& list) { return list.size() * sizeof(list[0]); };
    std::size_t bytes = of(log.memory) + of(log.families) + of(log.lists) + of(log.asked) +
                        of(log.unloaded) + of(log.shown) + of(log.notes) + of(log.taken) +
                        of(log.breaches) + of(log.carried) + of(log.near);
    for (const auto& family : log.families) bytes += of(family);
    return bytes;
}

} // namespace

MemoBuilder::MemoBuilder(const plan::Plan& plan, Packed& packed, const Moves& moves,
                         const std::vector<Bounds>& bounds, Worst& worst, std::size_t most_running)
    : plan_(&plan), packed_(&packed), moves_(&moves), most_running_(most_running), bounds_(&bounds),
      worst_(&worst) {}

/// The bits that a move writes, but for the set of levels; of a launch all of them. Where a player
/// was placed that is all that says where it is, wherever it was; where it came to be elsewhere in
/// another way, the move asks for where it was.
FewBits MemoBuilder::writes_of(const Move& move, const Ending& way, const Word* row,
                               const std::vector<Word>& after, ReadSet& asked) const {
    const Layout& layout = packed_->layout();
    std::vector<Word> changed(layout.words);
    const bool all = move.kind == Move::Kind::launch;
    for (std::size_t word = 0; word < changed.size(); ++word)
        changed[word] = all ? ~Word{0} : row[word] ^ after[word];
    changed[layout.levels.word] &= ~layout.levels.mask();
    for (std::uint32_t player = 0; player < packed_->players().size(); ++player) {
        const Field& field = layout.players[player];
        if (way.placed[player]) {
            changed[field.word] |= field.mask();
        } else if (field.get(row) != field.get(after.data()) &&
                   (move.kind != Move::Kind::go || move.player.value != player)) {
            ask_for(asked.bits, field, row);
        }
    }
    FewBits writes;
    for (std::uint32_t word = 0; word < layout.words; ++word) {
        if (changed[word] != 0)
            writes.push_back({word, changed[word], after[word] & changed[word]});
    }
    return writes;
}

/// The levels that a move touches, and those that are on their way or leave.
MemoBuilder::Known MemoBuilder::known_levels(const MoveRun& trial, const Word* row) const {
    const LevelSets& sets = packed_->levels();
    Known known{packed_->levels_of(row),
                std::vector<Word>(sets.words(), trial.all_levels ? ~Word{0} : Word{0})};
    if (trial.all_levels) return known;
    const auto add = [&](plan::LevelId level) {
        const Field field = LevelSets::field(level);
        known.bits[field.word] |= field.mask();
    };
    for (const plan::LevelId level : trial.levels) add(level);
    const std::uint32_t going_on = packed_->levels().going_on(packed_->level_number(row));
    for (const plan::LevelId level : sets.what_goes_on(going_on)) add(level);
    std::erase_if(known.levels, [&](const LevelThere& each) {
        return LevelSets::field(each.level).get(known.bits.data()) == 0;
    });
    return known;
}

/// Whether levels that a move does not touch hold a kit. It is asked often within one move, always
/// with the same answer.
bool MemoBuilder::held_by_others(std::size_t device, loading::PieceId kit, const Known& known,
                                 const Word* set, ReadSet& asked) {
    if (kits_.size() <= device) kits_.resize(device + 1);
    if (kits_[device].size() <= kit.value) kits_[device].resize(kit.value + 1);
    KitUse& use = kits_[device][kit.value];
    if (std::exchange(use.asked_in, added_) == added_) return use.by_others;
    if (!use.users) use.users = LevelSets::all_bits((*bounds_)[device].users_of(kit));
    FewBits others;
    for (const Bits& bits : *use.users) {
        const Word mask = bits.mask & ~known.bits[bits.word];
        if (mask != 0) others.push_back({bits.word, mask, 0});
    }
    use.by_others = false;
    if (others.empty()) return false;
    ReadValues& values = packed_->read_values();
    const std::uint32_t users = values.users(others);
    const auto asked_before =
        std::find_if(asked.held.begin(), asked.held.end(),
                     [&](const ReadSet::Held& each) { return each.users == users; });
    if (asked_before != asked.held.end()) return use.by_others = asked_before->held;
    use.by_others = values.is_held(users, set);
    asked.held.push_back({users, use.by_others});
    return use.by_others;
}

/// What a move adds to memory and frames. Whether levels that it does not touch hold a kit is a
/// question of its own.
std::uint32_t MemoBuilder::added_by(const MoveLog& log, const std::vector<plan::VeilId>& veils,
                                    const Known& known, const Word* row, ReadSet& asked) {
    const Word* set = packed_->levels().row(packed_->level_number(row));
    ++added_;
    std::vector<UseAdded> added;
    for (std::size_t device = 0; device < bounds_->size(); ++device) {
        const auto by_others = [&](loading::PieceId kit) {
            return held_by_others(device, kit, known, set, asked);
        };
        added.push_back((*bounds_)[device].added(known.levels, veils, log, by_others));
    }
    return worst_->number_of(added);
}

std::uint32_t MemoBuilder::kept(Effect effect) {
    effect_bytes_ += sizeof(Effect) + bytes_of(effect.log);
    effects_.push_back(std::move(effect));
    return static_cast<std::uint32_t>(effects_.size() - 1);
}

/// That nothing went on: all share one.
std::uint32_t MemoBuilder::quiet_effect(std::uint32_t situation, std::uint32_t taken) {
    if (!quiet_effect_) {
        Effect effect;
        effect.first = situation;
        effect.taken = taken;
        quiet_effect_ = kept(std::move(effect));
    }
    return *quiet_effect_;
}

/// Where a player gets to who meets no trigger and comes near no level that streams, but for those
/// that are left out.
MemoBuilder::QuietWay MemoBuilder::quiet_way(const Move& going, const PlayerNow& from) {
    QuietWay way;
    flow::Traveller traveller;
    traveller.at = from.at;
    set_out_along(*plan_, traveller, going.leg,
                  plan_->players[packed_->players()[going.player.value]]
                      .speeds[going.speed]
                      .metres_per_second);
    std::set<flow::ZoneId> inside(from.standing.inside.begin(), from.standing.inside.end());
    const flow::Zones& zones = packed_->zones();
    const auto sets_off = [&](flow::ZoneId zone) { return zones[zone].sets_off(); };
    // Inside of a trigger it may fire because the player moves.
    if (moves_->asks_for_speed() && std::any_of(inside.begin(), inside.end(), sets_off)) return way;
    MoveLog log;
    do {
        measure_piece(*plan_, zones, inside, traveller);
        for (const flow::Crossing& crossing : traveller.crossings) {
            const flow::Zone& zone = zones[crossing.zone];
            if (zone.sets_off()) return way;
            if (zone.left_out)
                log.near.push_back({going.player, crossing.zone, crossing.enters, false});
            if (zone.left_out && crossing.enters) {
                const plan::LevelId above = plan_->levels[zone.level()].parent;
                if (above) plan::append_new(way.may_come, above);
            }
            if (crossing.enters) {
                inside.insert(crossing.zone);
            } else {
                inside.erase(crossing.zone);
            }
        }
    } while (next_piece(*plan_, traveller));
    PlayerNow to = from;
    to.at = traveller.goal;
    to.standing.inside.assign(inside.begin(), inside.end());
    way.near = packed_->near().path(going.player, &from, log, false);
    way.to = packed_->number_of(to);
    return way;
}

/// The same, by number; that depends on nothing else.
const MemoBuilder::QuietWay& MemoBuilder::quietly(std::uint32_t move, std::uint32_t stand) {
    const auto [found, fresh] = quiet_.try_emplace(Word{move} << 32 | stand);
    // A copy: who gets to a new place may move the others.
    if (fresh) found->second = quiet_way(moves_->all()[move], PlayerNow(packed_->stands()[stand]));
    return found->second;
}

/// What of the row of the set of levels a move writes.
FewBits MemoBuilder::level_writes(const Move& move, std::uint32_t before,
                                  std::uint32_t after) const {
    const LevelSets& levels = packed_->levels();
    return move.kind == Move::Kind::launch
               ? levels.whole(after)
               : difference(levels.row(before), levels.row(after), levels.words());
}

std::optional<MemoEntry> MemoBuilder::quiet(std::uint32_t number, const Word* row,
                                            std::uint32_t situation) {
    const Move& move = moves_->all()[number];
    // Where a list runs it may wait for a player to move.
    if (move.kind != Move::Kind::go || moves_->asks_where() ||
        (moves_->asks_for_speed() && !packed_->control_of(row).runs.empty()))
        return std::nullopt;
    const Field& field = packed_->layout().players[move.player.value];
    const std::uint32_t stand = packed_->stand_number(row, move.player.value);
    const QuietWay& way = quietly(number, stand);
    if (way.to == UINT32_MAX) return std::nullopt;
    MemoEntry made;
    const std::uint32_t set = packed_->level_number(row);
    const LevelSets& levels = packed_->levels();
    const auto ask = [&](plan::LevelId level) {
        ask_for(made.asked.levels, LevelSets::field(level), levels.row(set));
    };
    const plan::GateId gate = plan_->paths[move.leg.path].gate;
    if (gate) {
        const bool open = plan::is_open(*plan_, plan_->gates[gate], [&](plan::LevelId level) {
            ask(level);
            return levels.is_shown(set, level);
        });
        if (!open) return made; // can't be done
    }
    for (const plan::LevelId level : way.may_come) {
        if (!levels.is_wanted(set, level)) return std::nullopt;
        ask(level);
    }
    Outcome outcome;
    outcome.first = situation;
    outcome.taken = number_of(number, {});
    if (way.to != stand) {
        const Word mask = Word{way.to ^ stand} << field.shift;
        outcome.writes.push_back({field.word, mask, Word{way.to} << field.shift & mask});
    }
    outcome.near = way.near;
    outcome.effect = quiet_effect(situation, outcome.taken);
    outcome.added = Worst::nothing;
    made.outcomes.push_back(std::move(outcome));
    made.moves = static_cast<std::uint32_t>(moves_->at_each_speed(number).size());
    return made;
}

MemoEntry MemoBuilder::tried(const MoveRun& trial, std::uint32_t number, const Word* row,
                             std::uint32_t situation) {
    const Move& move = moves_->all()[number];
    const std::uint32_t mover = move.kind == Move::Kind::go ? move.player.value : UINT32_MAX;
    MemoEntry made;
    made.asked = packed_->read_set_of(trial, row, mover);
    const std::uint32_t set = packed_->level_number(row);
    const Known known = known_levels(trial, row);
    const std::vector<plan::VeilId> veils = veils_up(packed_->control_of(row));
    for (const Ending& way : trial.ways) {
        const std::vector<Word> after = packed_->row_of(way);
        const std::uint32_t at_speed = number + way.speed;
        Outcome outcome;
        outcome.first = situation;
        outcome.taken = number_of(at_speed, way.log.taken);
        outcome.writes = writes_of(move, way, row, after, made.asked);
        outcome.levels = level_writes(move, set, packed_->level_number(after.data()));
        outcome.added = added_by(way.log, veils, known, row, made.asked);
        outcome.near = mover == UINT32_MAX
                           ? packed_->near().path({}, nullptr, way.log, way.control.ended)
                           : packed_->near().path(move.player, &packed_->player_of(row, mover),
                                                  way.log, way.control.ended);
        Effect effect;
        effect.log = way.log;
        effect.ended = way.control.ended;
        effect.first = situation;
        effect.taken = outcome.taken;
        outcome.effect = kept(std::move(effect));
        const bool too_many = way.control.runs.size() > most_running_;
        too_many_running_ = too_many_running_ || too_many;
        if (too_many || way.log.endless) {
            made.nowhere.push_back(std::move(outcome));
        } else {
            made.outcomes.push_back(std::move(outcome));
        }
    }
    const std::size_t alike = trial.asked_for_speed ? 1 : moves_->at_each_speed(number).size();
    made.moves = static_cast<std::uint32_t>(made.outcomes.size() * alike);
    return made;
}

std::uint32_t MemoBuilder::number_of(std::uint32_t move,
                                     const std::vector<MoveLog::Taken>& branches) {
    Key which{move};
    for (const MoveLog::Taken& taken : branches) {
        which.push_back(static_cast<std::uint32_t>(taken.branch));
        which.push_back(taken.player.value);
    }
    return taken_.number(std::move(which), {move, branches});
}

} // namespace hestrel::explore
