#include "explore/bounds.hpp"

#include "plan/lists.hpp"

#include <algorithm>
#include <functional>
#include <map>
#include <set>
#include <utility>

namespace hestrel::explore {

using loading::PieceId;
using plan::Bytes;
using plan::LevelId;

namespace {

/// What is read or unpacked within one interval. Read or unpacked, a piece holds one or the other;
/// while it is being unpacked, both.
class Staging {
public:
    explicit Staging(const loading::Catalogue& catalogue) : catalogue_(&catalogue) {}

    void add(PieceId piece) {
        if (!catalogue_->unpack) return;
        const loading::Piece& content = catalogue_->pieces[piece];
        more_ += std::max(Bytes{}, content.packed - content.unpacked);
        both_.push_back(std::min(content.packed, content.unpacked));
        std::sort(both_.begin(), both_.end(), std::greater<>());
        if (both_.size() > catalogue_->unpack->workers) both_.resize(catalogue_->unpack->workers);
    }
    [[nodiscard]] Bytes most() const {
        Bytes most = more_;
        for (const Bytes size : both_) most += size;
        return most;
    }

private:
    const loading::Catalogue* catalogue_;
    Bytes more_;              ///< by which reading takes more than what is read
    std::vector<Bytes> both_; ///< the largest that may be held beside, one for each worker
};

/// What one interval, from a firing until all has settled, holds at most. What levels hold that are
/// not among those given, it holds beside: a kit of theirs is neither read nor released.
class Interval {
public:
    Interval(const loading::Catalogue& catalogue, loading::MemoryUse base,
             const std::set<LevelId>& levels, const Bounds::HeldByOthers& by_others)
        : catalogue_(&catalogue), by_others_(&by_others), use_(std::move(base)), levels_(levels),
          staging_(catalogue) {
        for (const LevelId level : levels) {
            catalogue_->for_pieces(level, [&](PieceId piece) { hold(piece, false); });
        }
        peak_ = use_;
        look();
    }
    /// Where players hurry, some of the levels are on their way, or leave.
    Interval(const loading::Catalogue& catalogue, loading::MemoryUse base,
             std::span<const LevelThere> levels, const Bounds::HeldByOthers& by_others)
        : catalogue_(&catalogue), by_others_(&by_others), use_(std::move(base)),
          staging_(catalogue) {
        for (const LevelThere& there : levels) {
            if (there.pending) continue;
            if (!there.leaving) levels_.insert(there.level);
            catalogue_->for_pieces(there.level, [&](PieceId piece) { hold(piece, false); });
        }
        peak_ = use_;
        look();
        for (const LevelThere& there : levels) {
            if (there.pending) asked(there.level);
        }
    }

    void asked(LevelId level) {
        catalogue_->for_pieces(level, [&](PieceId piece) {
            if (others_hold(piece)) return;
            // What nothing needed any more may have been released meanwhile, and is read again.
            const auto held = held_.find(piece);
            const bool again =
                held != held_.end() && !held->second && !kept_.contains(piece) && !needed(piece);
            if (again) {
                held->second = true;
                staging_.add(piece);
            } else {
                hold(piece, true);
            }
        });
        levels_.insert(level);
        look();
    }
    void unloaded(LevelId level) {
        levels_.erase(level);
        catalogue_->for_pieces(level, [&](PieceId piece) { kept_.erase(piece); });
    }
    /// What nothing needs is released, but for what may be on its way still.
    void released(const std::vector<LevelId>& family) {
        std::set<PieceId> needed;
        for (const LevelId level : levels_)
            catalogue_->for_pieces(level, [&](PieceId piece) { needed.insert(piece); });
        kept_.clear();
        for (const LevelId level : family)
            catalogue_->for_pieces(level, [&](PieceId piece) { kept_.insert(piece); });
        needed.insert(kept_.begin(), kept_.end());
        std::erase_if(held_, [&](const auto& each) {
            const auto& [piece, fresh] = each;
            if (fresh || needed.contains(piece)) return false;
            use_.subtract(catalogue_->pieces[piece].memory);
            return true;
        });
    }
    void veil(const std::vector<Bytes>& memory, bool up) {
        if (up) {
            use_.add(memory);
        } else {
            use_.subtract(memory);
        }
        look();
    }

    [[nodiscard]] const loading::MemoryUse& peak() const { return peak_; }
    [[nodiscard]] const std::set<LevelId>& levels() const { return levels_; }

private:
    [[nodiscard]] bool others_hold(PieceId piece) const {
        return !catalogue_->is_level(piece) && (*by_others_)(piece);
    }
    [[nodiscard]] bool needed(PieceId piece) const {
        return std::any_of(levels_.begin(), levels_.end(), [&](LevelId level) {
            bool needs = false;
            catalogue_->for_pieces(level, [&](PieceId each) { needs = needs || each == piece; });
            return needs;
        });
    }
    void hold(PieceId piece, bool fresh) {
        if (others_hold(piece) || !held_.emplace(piece, fresh).second) return;
        use_.add(catalogue_->pieces[piece].memory);
        if (fresh) staging_.add(piece);
    }

    void look() {
        loading::MemoryUse now = use_;
        now.total += staging_.most();
        peak_.raise_to(now);
    }

    const loading::Catalogue* catalogue_;
    const Bounds::HeldByOthers* by_others_;
    loading::MemoryUse use_;
    std::set<LevelId> levels_;     ///< asked for
    std::map<PieceId, bool> held_; ///< whether it was asked for in this interval
    std::set<PieceId> kept_;       ///< by a switch, for its family: not released, so not read again
    Staging staging_;
    loading::MemoryUse peak_;
};

/// Whether a level that seems to be on its way was there before the move.
bool had_come(LevelId level, const MoveLog& log) {
    return std::any_of(log.memory.begin(), log.memory.end(), [&](const MoveLog::Memory& each) {
        return each.kind == MoveLog::Memory::Kind::came && each.index == level.value;
    });
}

} // namespace

Bounds::Bounds(const plan::Plan& plan, plan::DeviceId device,
               const std::vector<plan::PlayerKindId>& players)
    : plan_(&plan), catalogue_(loading::catalogue_for(plan, device)) {
    always_.pools.resize(plan.pools.size());
    always_.total = catalogue_.memory.base;
    always_.add(loading::players_memory(plan, players));
}

std::vector<Bytes> Bounds::memory_of(plan::VeilId veil) const {
    return loading::by_pool(plan_->pools.size(), plan_->veils[veil].memory);
}

loading::MemoryUse Bounds::held(std::span<const LevelThere> levels) const {
    loading::MemoryUse use = always_;
    std::vector<PieceId> kits; // each counts once
    for (const LevelThere& there : levels) {
        if (there.pending) continue;
        catalogue_.for_pieces(there.level, [&](PieceId piece) {
            if (catalogue_.is_level(piece)) {
                use.add(catalogue_.pieces[piece].memory);
            } else {
                kits.push_back(piece);
            }
        });
    }
    std::sort(kits.begin(), kits.end());
    kits.erase(std::unique(kits.begin(), kits.end()), kits.end());
    for (const PieceId kit : kits) use.add(catalogue_.pieces[kit].memory);
    return use;
}

Bytes Bounds::staged(std::span<const LevelId> levels) const {
    Staging staging(catalogue_);
    std::set<PieceId> pieces;
    for (const LevelId level : levels)
        catalogue_.for_pieces(level, [&](PieceId piece) { pieces.insert(piece); });
    for (const PieceId piece : pieces) staging.add(piece);
    return staging.most();
}

loading::MemoryUse Bounds::held_by(const std::vector<plan::VeilId>& veils) const {
    loading::MemoryUse use;
    use.pools.resize(plan_->pools.size());
    for (const plan::VeilId veil : veils) use.add(memory_of(veil));
    return use;
}

std::vector<LevelId> Bounds::users_of(PieceId piece) const {
    std::vector<LevelId> users;
    for (const LevelId level : catalogue_.levels.ids()) {
        if (plan::contains(catalogue_.levels[level].kits, piece)) users.push_back(level);
    }
    return users;
}

UseAdded Bounds::added(std::span<const LevelThere> known, const std::vector<plan::VeilId>& veils,
                       const MoveLog& log, const HeldByOthers& by_others) const {
    using Kind = MoveLog::Memory::Kind;
    const HeldByOthers nobody = [](PieceId) { return false; };
    UseAdded added;
    added.most.pools.resize(plan_->pools.size());
    // What known levels hold at first is not added; from a launch on all that there is counts.
    loading::MemoryUse base = added.most;
    std::set<PieceId> held;
    for (const LevelThere& there : known) {
        if (there.pending) continue;
        catalogue_.for_pieces(there.level, [&](PieceId piece) {
            const bool by_them = !catalogue_.is_level(piece) && by_others(piece);
            if (!by_them && held.insert(piece).second)
                base.subtract(catalogue_.pieces[piece].memory);
        });
    }
    std::vector<LevelThere> there(known.begin(), known.end());
    for (LevelThere& each : there) each.pending = each.pending && !had_come(each.level, log);
    Interval interval(catalogue_, base, there, by_others);
    const auto raise = [&] {
        (added.launched ? *added.launched : added.most).raise_to(interval.peak());
    };
    loading::MemoryUse veiled = held_by(veils);
    for (const MoveLog::Memory& each : log.memory) {
        switch (each.kind) {
        case Kind::came: break; // it was there at first
        case Kind::asked: interval.asked(LevelId{each.index}); break;
        case Kind::unloaded: interval.unloaded(LevelId{each.index}); break;
        case Kind::released: interval.released(log.families[each.index]); break;
        case Kind::veil_up:
        case Kind::veil_down: {
            const std::vector<Bytes> memory = memory_of(plan::VeilId{each.index});
            const bool up = each.kind == Kind::veil_up;
            interval.veil(memory, up);
            for (loading::MemoryUse* of : {&base, &veiled})
                up ? of->add(memory) : of->subtract(memory);
            break;
        }
        case Kind::frames: {
            const plan::Micros more = catalogue_.frame_cost(log.families[each.index]) -
                                      catalogue_.frame_cost(log.families[each.index + 1]);
            if (added.launched) {
                added.launched->frame =
                    std::max(added.launched->frame, catalogue_.frame.base + more);
            } else {
                added.frame = std::max(added.frame.value_or(more), more);
            }
            break;
        }
        case Kind::launched:
            raise();
            base = always_;
            base.add(veiled.pools);
            if (!added.launched) {
                added.launched.emplace();
                added.launched->pools.resize(plan_->pools.size());
            }
            interval = Interval(catalogue_, base, std::span<const LevelThere>{}, nobody);
            break;
        case Kind::settled:
            raise();
            interval =
                Interval(catalogue_, base, interval.levels(), added.launched ? nobody : by_others);
            break;
        }
    }
    raise();
    return added;
}

Use Bounds::settled(const std::vector<LevelThere>& levels,
                    const std::vector<plan::VeilId>& veils) const {
    Use use = during(levels, veils, {});
    if (veils.empty()) use.frame = frame_with(shown_of(levels));
    return use;
}

Use Bounds::during(const std::vector<LevelThere>& levels, const std::vector<plan::VeilId>& veils,
                   const MoveLog& log) const {
    const UseAdded more = added(levels, veils, log, [](PieceId) { return false; });
    Use use;
    static_cast<loading::MemoryUse&>(use) = held(levels);
    const loading::MemoryUse by_veils = held_by(veils);
    for (const loading::MemoryUse* of : {&by_veils, &more.most}) {
        use.total += of->total;
        for (std::size_t pool = 0; pool < use.pools.size(); ++pool)
            use.pools[pool] += of->pools[pool];
    }
    if (more.frame) use.frame = frame_with(shown_of(levels)) + *more.frame;
    if (more.launched) use.raise_to(*more.launched);
    return use;
}

} // namespace hestrel::explore
