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

/// What one interval, from a firing until all has settled, holds at most.
class Interval {
public:
    Interval(const loading::Catalogue& catalogue, Use base, const std::set<LevelId>& levels)
        : catalogue_(&catalogue), use_(std::move(base)), levels_(levels) {
        for (const LevelId level : levels) {
            catalogue_->for_pieces(level, [&](PieceId piece) { hold(piece, false); });
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
            // What nothing needed any more may have been released meanwhile, and is read again.
            const auto held = held_.find(piece);
            const bool again =
                held != held_.end() && !held->second && !kept_.contains(piece) && !needed(piece);
            if (again) {
                held->second = true;
                stage(piece);
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

    [[nodiscard]] const Use& peak() const { return peak_; }
    [[nodiscard]] const std::set<LevelId>& levels() const { return levels_; }

private:
    [[nodiscard]] bool needed(PieceId piece) const {
        return std::any_of(levels_.begin(), levels_.end(), [&](LevelId level) {
            bool needs = false;
            catalogue_->for_pieces(level, [&](PieceId each) { needs = needs || each == piece; });
            return needs;
        });
    }
    void hold(PieceId piece, bool fresh) {
        if (!held_.emplace(piece, fresh).second) return;
        use_.add(catalogue_->pieces[piece].memory);
        if (fresh) stage(piece);
    }
    /// Read or unpacked, a piece holds one or the other; while it is being unpacked, both.
    void stage(PieceId piece) {
        if (!catalogue_->unpack) return;
        const loading::Piece& content = catalogue_->pieces[piece];
        staged_ += std::max(Bytes{}, content.packed - content.unpacked);
        both_.push_back(std::min(content.packed, content.unpacked));
        std::sort(both_.begin(), both_.end(), std::greater<>());
        if (both_.size() > catalogue_->unpack->workers) both_.resize(catalogue_->unpack->workers);
    }

    void look() {
        Use now = use_;
        now.total += staged_;
        for (const Bytes size : both_) now.total += size;
        peak_.raise_to(now);
    }

    const loading::Catalogue* catalogue_;
    Use use_;
    std::set<LevelId> levels_;     ///< asked for
    std::map<PieceId, bool> held_; ///< whether it was asked for in this interval
    std::set<PieceId> kept_;       ///< by a switch, for its family: not released, so not read again
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
    always_.add(loading::players_memory(plan, players));
}

Use Bounds::with_veils(const std::vector<plan::VeilId>& veils) const {
    Use use = always_;
    for (const plan::VeilId veil : veils) use.add(memory_of(veil));
    return use;
}

std::vector<Bytes> Bounds::memory_of(plan::VeilId veil) const {
    return loading::by_pool(plan_->pools.size(), plan_->veils[veil].memory);
}

plan::Micros Bounds::frame_with(const std::vector<LevelId>& shown) const {
    return catalogue_.frame.base + catalogue_.frame_cost(shown);
}

Use Bounds::settled(const std::vector<LevelThere>& levels,
                    const std::vector<plan::VeilId>& veils) const {
    Use use = Interval(catalogue_, with_veils(veils), levels).peak();
    if (veils.empty()) {
        std::vector<LevelId> shown;
        for (const LevelThere& there : levels) {
            if (there.shown) shown.push_back(there.level);
        }
        use.frame = frame_with(shown);
    }
    return use;
}

Use Bounds::during(const std::vector<LevelThere>& levels, const std::vector<plan::VeilId>& veils,
                   const MoveLog& log) const {
    using Kind = MoveLog::Memory::Kind;
    Use base = with_veils(veils);
    Interval interval(catalogue_, base, levels);
    Use peak = interval.peak();
    for (const MoveLog::Memory& each : log.memory) {
        switch (each.kind) {
        case Kind::asked: interval.asked(LevelId{each.index}); break;
        case Kind::unloaded: interval.unloaded(LevelId{each.index}); break;
        case Kind::released: interval.released(log.families[each.index]); break;
        case Kind::veil_up:
        case Kind::veil_down: {
            const std::vector<Bytes> memory = memory_of(plan::VeilId{each.index});
            interval.veil(memory, each.kind == Kind::veil_up);
            if (each.kind == Kind::veil_up) {
                base.add(memory);
            } else {
                base.subtract(memory);
            }
            break;
        }
        case Kind::frames:
            peak.frame = std::max(peak.frame, frame_with(log.families[each.index]));
            break;
        case Kind::launched:
            peak.raise_to(interval.peak());
            interval = Interval(catalogue_, base, std::vector<LevelThere>());
            break;
        case Kind::settled:
            peak.raise_to(interval.peak());
            interval = Interval(catalogue_, base, interval.levels());
            break;
        }
    }
    peak.raise_to(interval.peak());
    return peak;
}

} // namespace hestrel::explore
