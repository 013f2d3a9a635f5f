#include "explore/memo_builder.hpp"

#include "explore/keys.hpp"

#include <algorithm>
#include <set>

namespace hestrel::explore {

namespace {

/// All that a log holds beside itself.
std::size_t bytes_of(const MoveLog& log) {
    const auto of = [](const auto& list) { return list.size() * sizeof(list[0]); };
    std::size_t bytes = of(log.memory) + of(log.families) + of(log.lists) + of(log.asked) +
                        of(log.unloaded) + of(log.shown) + of(log.notes) + of(log.taken) +
                        of(log.breaches) + of(log.carried);
    for (const auto& family : log.families) bytes += of(family);
    return bytes;
}

} // namespace

MemoBuilder::MemoBuilder(const plan::Plan& plan, Packed& packed, const Moves& moves,
                         const std::vector<plan::DeviceId>& devices, std::size_t most_running)
    : plan_(&plan), packed_(&packed), moves_(&moves), most_running_(most_running) {
    for (const plan::DeviceId device : devices)
        bounds_.emplace_back(plan, device, packed.players());
}

/// The bits that a move writes; of a launch all of them. Where a player was placed that is all that
/// says where it is, wherever it was; where it came to be elsewhere in another way, the move asks
/// for where it was.
FewBits MemoBuilder::writes_of(const Move& move, const Ending& way, const Word* row,
                               const std::vector<Word>& after, ReadSet& asked) const {
    const Layout& layout = packed_->layout();
    std::vector<Word> changed(layout.words);
    const bool all = move.kind == Move::Kind::launch;
    for (std::size_t word = 0; word < changed.size(); ++word)
        changed[word] = all ? ~Word{0} : row[word] ^ after[word];
    for (std::uint32_t player = 0; player < packed_->players().size(); ++player) {
        const Field& field = layout.players[player];
        if (way.placed[player]) {
            changed[field.word] |= field.mask();
        } else if (field.get(row) != field.get(after.data()) &&
                   (move.kind != Move::Kind::go || move.player.value != player)) {
            asked.ask_for(field, row);
        }
    }
    FewBits writes;
    for (std::uint32_t word = 0; word < layout.words; ++word) {
        if (changed[word] != 0)
            writes.push_back({word, changed[word], after[word] & changed[word]});
    }
    return writes;
}

/// Memory during a move; moves that ask for and release the same from the same levels share it.
std::uint32_t MemoBuilder::uses_of(std::uint32_t levels, const flow::State& before,
                                   const MoveLog& log) {
    const std::vector<plan::VeilId> veils = veils_up(before);
    KeyWriter writer;
    writer(levels);
    writer(veils);
    bool anything = false; // since all had settled last
    for (const MoveLog::Memory& each : log.memory) {
        if (each.kind == MoveLog::Memory::Kind::settled && !anything) continue;
        anything = each.kind != MoveLog::Memory::Kind::settled;
        writer(each.kind);
        if (each.kind == MoveLog::Memory::Kind::released ||
            each.kind == MoveLog::Memory::Kind::frames) {
            writer(log.families[each.index]);
        } else {
            writer(each.index);
        }
    }
    Key key = writer.take();
    if (const auto known = uses_.find(key)) return *known;
    std::vector<Use> uses;
    for (const Bounds& bounds : bounds_)
        uses.push_back(bounds.during(packed_->levels()[levels], veils, log));
    return uses_.number(std::move(key), uses);
}

std::uint32_t MemoBuilder::kept(Effect effect) {
    effect_bytes_ += sizeof(Effect) + bytes_of(effect.log);
    effects_.push_back(std::move(effect));
    return static_cast<std::uint32_t>(effects_.size() - 1);
}

/// That nothing went on.
std::uint32_t MemoBuilder::quiet_effect(const Word* row, std::uint32_t situation,
                                        std::uint32_t taken) {
    const auto [found, fresh] = quiet_effects_.try_emplace(row[0], 0);
    if (fresh) {
        Effect effect;
        effect.levels_before = packed_->level_number(row);
        effect.uses = uses_of(effect.levels_before, packed_->control_of(row), {});
        effect.first = situation;
        effect.taken = taken;
        found->second = kept(std::move(effect));
    }
    return found->second;
}

/// Where a player gets to who meets no trigger and comes near no level that streams; nowhere known
/// where it meets any. That depends on nothing else.
std::uint32_t MemoBuilder::quietly(std::uint32_t move, std::uint32_t stand) {
    const Word key = Word{move} << 32 | stand;
    const auto [found, fresh] = quiet_.try_emplace(key, UINT32_MAX);
    if (!fresh) return found->second;
    PlayerNow to = packed_->stands()[stand];
    const Move& going = moves_->all()[move];
    flow::Traveller traveller;
    traveller.at = to.at;
    set_out_along(*plan_, traveller, going.leg,
                  plan_->players[packed_->players()[going.player.value]]
                      .speeds[going.speed]
                      .metres_per_second);
    std::set<flow::ZoneId> inside(to.standing.inside.begin(), to.standing.inside.end());
    const flow::Zones& zones = packed_->zones();
    const auto sets_off = [&](flow::ZoneId zone) { return zones[zone].sets_off(); };
    // Inside of a trigger it may fire because the player moves.
    if (moves_->asks_for_speed() && std::any_of(inside.begin(), inside.end(), sets_off))
        return UINT32_MAX;
    do {
        measure_piece(*plan_, zones, inside, traveller);
        for (const flow::Crossing& crossing : traveller.crossings) {
            if (sets_off(crossing.zone)) return UINT32_MAX;
            if (crossing.enters) {
                inside.insert(crossing.zone);
            } else {
                inside.erase(crossing.zone);
            }
        }
    } while (next_piece(*plan_, traveller));
    to.at = traveller.goal;
    to.standing.inside.assign(inside.begin(), inside.end());
    const std::uint32_t number = packed_->number_of(to);
    quiet_[key] = number;
    return number;
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
    const std::uint32_t to = quietly(number, stand);
    if (to == UINT32_MAX) return std::nullopt;
    MemoEntry made;
    const plan::GateId gate = plan_->paths[move.leg.path].gate;
    if (gate && !is_open(*plan_, plan_->gates[gate], packed_->levels_of(row)))
        return made; // can't be done
    Outcome outcome;
    outcome.first = situation;
    outcome.taken = number_of(number, {});
    if (to != stand) {
        const Word mask = Word{to ^ stand} << field.shift;
        outcome.writes.push_back({field.word, mask, Word{to} << field.shift & mask});
    }
    outcome.effect = quiet_effect(row, situation, outcome.taken);
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
    for (const Ending& way : trial.ways) {
        const std::vector<Word> after = packed_->row_of(way);
        const std::uint32_t at_speed = number + way.speed;
        Outcome outcome;
        outcome.first = situation;
        outcome.taken = number_of(at_speed, way.log.taken);
        outcome.writes = writes_of(move, way, row, after, made.asked);
        Effect effect;
        effect.log = way.log;
        effect.levels_before = packed_->level_number(row);
        effect.ended = way.control.ended;
        effect.first = situation;
        effect.taken = outcome.taken;
        effect.uses = uses_of(effect.levels_before, packed_->control_of(row), effect.log);
        outcome.effect = kept(std::move(effect));
        if (way.control.runs.size() > most_running_) {
            too_many_running_ = true;
        } else if (!way.log.endless) {
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
    for (const MoveLog::Taken& taken : branches)
        which.push_back(static_cast<std::uint32_t>(taken.branch));
    return taken_.number(std::move(which), {move, branches});
}

} // namespace hestrel::explore
