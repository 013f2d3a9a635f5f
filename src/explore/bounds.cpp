#include "explore/bounds.hpp"

#include <algorithm>
#include <functional>
#include <map>
#include <set>

namespace hestrel::explore {

using loading::PieceId;
using plan::Bytes;
using plan::LevelId;

namespace {

void add(Use& use, const std::vector<Bytes>& pools) {
    for (std::size_t pool = 0; pool < pools.size(); ++pool) {
        use.pools[pool] += pools[pool];
        use.total += pools[pool];
    }
}
void add(Use& use, const std::vector<std::pair<plan::PoolId, Bytes>>& memory) {
    for (const auto& [pool, size] : memory) {
        use.pools[pool.value] += size;
        use.total += size;
    }
}
void subtract(Use& use, const std::vector<std::pair<plan::PoolId, Bytes>>& memory) {
    for (const auto& [pool, size] : memory) {
        use.pools[pool.value] = use.pools[pool.value] - size;
        use.total = use.total - size;
    }
}

/// What one interval, from a firing until all has settled, holds at most.
class Interval {
public:
    Interval(const loading::Catalogue& catalogue, Use base, const std::set<LevelId>& levels)
        : catalogue_(&catalogue), use_(std::move(base)), levels_(levels) {
        for (const LevelId level : levels) {
            for_pieces(level, [&](PieceId piece) { hold(piece, false); });
        }
        peak_ = use_;
        look();
    }
    /// Where players hurry, some of the levels are on their way, or leave.
    Interval(const loading::Catalogue& catalogue, Use base, const std::vector<LevelThere>& levels)
        : catalogue_(&catalogue), use_(std::move(base)) {
        for (const LevelThere& there : levels) {
            if (there.pending) continue;
            if (!there.leaving) levels_.insert(there.level);
            for_pieces(there.level, [&](PieceId piece) { hold(piece, false); });
        }
        peak_ = use_;
        look();
        for (const LevelThere& there : levels) {
            if (there.pending) asked(there.level);
        }
    }

    void asked(LevelId level) {
        levels_.insert(level);
        for_pieces(level, [&](PieceId piece) { hold(piece, true); });
        look();
    }
    void unloaded(LevelId level) { levels_.erase(level); }
    /// What nothing needs is released, but for what may be on its way still.
    void released(const std::vector<LevelId>& family) {
        std::set<PieceId> needed;
        for (const LevelId level : levels_)
            for_pieces(level, [&](PieceId piece) { needed.insert(piece); });
        for (const LevelId level : family)
            for_pieces(level, [&](PieceId piece) { needed.insert(piece); });
        std::erase_if(held_, [&](const auto& each) {
            const auto& [piece, fresh] = each;
            if (fresh || needed.contains(piece)) return false;
            const loading::Piece& content = catalogue_->pieces[piece];
            for (std::size_t pool = 0; pool < content.memory.size(); ++pool)
                use_.pools[pool] = use_.pools[pool] - content.memory[pool];
            use_.total = use_.total - content.unpacked;
            return true;
        });
    }
    void veil(const std::vector<std::pair<plan::PoolId, Bytes>>& memory, bool up) {
        if (up) {
            add(use_, memory);
        } else {
            subtract(use_, memory);
        }
        look();
    }

    [[nodiscard]] const Use& peak() const { return peak_; }
    [[nodiscard]] const std::set<LevelId>& levels() const { return levels_; }

private:
    template <class Do>
    void for_pieces(LevelId level, Do&& what) const {
        for (const PieceId kit : catalogue_->levels[level].kits) what(kit);
        what(catalogue_->piece_of(level));
    }

    void hold(PieceId piece, bool fresh) {
        if (!held_.emplace(piece, fresh).second) return;
        const loading::Piece& content = catalogue_->pieces[piece];
        add(use_, content.memory);
        if (!fresh || !catalogue_->unpack) return;
        // Read or unpacked, it holds one or the other; while it is being unpacked, both.
        staged_ += std::max(Bytes{}, content.packed - content.unpacked);
        both_.push_back(std::min(content.packed, content.unpacked));
        std::sort(both_.begin(), both_.end(), std::greater<>());
        if (both_.size() > catalogue_->unpack->workers) both_.resize(catalogue_->unpack->workers);
    }

    void look() {
        Bytes total = use_.total + staged_;
        for (const Bytes size : both_) total += size;
        peak_.total = std::max(peak_.total, total);
        for (std::size_t pool = 0; pool < use_.pools.size(); ++pool)
            peak_.pools[pool] = std::max(peak_.pools[pool], use_.pools[pool]);
    }

    const loading::Catalogue* catalogue_;
    Use use_;
    std::set<LevelId> levels_;     ///< asked for
    std::map<PieceId, bool> held_; ///< whether it was asked for in this interval
    Bytes staged_;                 ///< by which reading takes more than what is read
    std::vector<Bytes> both_;      ///< the largest that may be held beside, one for each worker
    Use peak_;
};

} // namespace

Bounds::Bounds(const plan::Plan& plan, plan::DeviceId device,
               const std::vector<plan::PlayerKindId>& players)
    : plan_(&plan), catalogue_(loading::catalogue_for(plan, device)) {
    always_.pools.resize(plan.pools.size());
    always_.total = catalogue_.memory.base;
    for (const plan::PlayerKindId kind : players) {
        if (kind) add(always_, plan.players[kind].memory);
    }
}

Use Bounds::settled(const std::vector<LevelThere>& levels,
                    const std::vector<plan::VeilId>& veils) const {
    Use use = always_;
    for (const plan::VeilId veil : veils) add(use, plan_->veils[veil].memory);
    return Interval(catalogue_, std::move(use), levels).peak();
}

Use Bounds::during(const std::vector<LevelThere>& levels, const std::vector<plan::VeilId>& veils,
                   const MoveLog& log) const {
    using Kind = MoveLog::Memory::Kind;
    Use base = always_;
    for (const plan::VeilId veil : veils) add(base, plan_->veils[veil].memory);
    Interval interval(catalogue_, base, levels);
    Use peak = interval.peak();
    const auto end = [&] {
        peak.total = std::max(peak.total, interval.peak().total);
        for (std::size_t pool = 0; pool < peak.pools.size(); ++pool)
            peak.pools[pool] = std::max(peak.pools[pool], interval.peak().pools[pool]);
    };
    for (const MoveLog::Memory& each : log.memory) {
        switch (each.kind) {
        case Kind::asked: interval.asked(LevelId{each.index}); break;
        case Kind::unloaded: interval.unloaded(LevelId{each.index}); break;
        case Kind::released: interval.released(log.families[each.index]); break;
        case Kind::veil_up:
        case Kind::veil_down: {
            const auto& memory = plan_->veils[plan::VeilId{each.index}].memory;
            interval.veil(memory, each.kind == Kind::veil_up);
            if (each.kind == Kind::veil_up) {
                add(base, memory);
            } else {
                subtract(base, memory);
            }
            break;
        }
        case Kind::settled:
            end();
            interval = Interval(catalogue_, base, interval.levels());
            break;
        }
    }
    end();
    return peak;
}

} // namespace hestrel::explore
