#include "explore/near_sets.hpp"

#include <algorithm>
#include <map>

namespace hestrel::explore {

using plan::LevelId;

/// By level, how many of the boxes around which it streams.
class NearSets::Inside {
public:
    explicit Inside(NearSets& sets) : sets_(&sets) {}

    void count(flow::ZoneId id, bool inside) {
        const flow::Zone& zone = (*sets_->zones_)[id];
        if (!zone.left_out) return;
        auto& counts = zone.kind == flow::Zone::Kind::near_load ? within_load_ : within_unload_;
        const LevelId level = zone.level();
        if (inside) {
            ++counts[level];
        } else if (--counts[level] == 0) {
            counts.erase(level);
        }
    }
    void count(const PlayerNow& now) {
        for (const flow::ZoneId zone : now.standing.inside) count(zone, true);
    }
    [[nodiscard]] bool is_near(LevelId level) const { return within_load_.contains(level); }
    [[nodiscard]] std::uint32_t there() const {
        std::vector<LevelId> levels;
        add(within_load_, levels);
        return number(std::move(levels));
    }
    [[nodiscard]] std::uint32_t may_be() const {
        std::vector<LevelId> levels;
        add(within_load_, levels); // one of both distances is met first where they are the same
        add(within_unload_, levels);
        return number(std::move(levels));
    }
    void note_came_near() const {
        for (const auto& [level, boxes] : within_load_) {
            for (const LevelId each : sets_->folded_->family(level)) {
                if (sets_->came_near_.size() <= each.value)
                    sets_->came_near_.resize(each.value + 1);
                sets_->came_near_[each.value] = true;
            }
        }
    }

private:
    using Counts = std::map<LevelId, std::uint32_t>;

    void add(const Counts& counts, std::vector<LevelId>& levels) const {
        for (const auto& [level, boxes] : counts) {
            const std::vector<LevelId>& family = sets_->folded_->family(level);
            levels.insert(levels.end(), family.begin(), family.end());
        }
    }
    [[nodiscard]] std::uint32_t number(std::vector<LevelId> levels) const {
        std::sort(levels.begin(), levels.end());
        levels.erase(std::unique(levels.begin(), levels.end()), levels.end());
        return sets_->number(levels);
    }

    NearSets* sets_;
    Counts within_load_;
    Counts within_unload_;
};

NearSets::NearSets(const FoldedNear& folded, const flow::Zones& zones)
    : folded_(&folded), zones_(&zones) {
    number({});
    paths_.number({}, {});
}

std::uint32_t NearSets::number(const std::vector<LevelId>& levels) {
    Key key;
    for (const LevelId level : levels) key.push_back(level.value);
    return sets_.number(std::move(key), levels);
}

std::vector<LevelId> NearSets::together(const std::vector<std::uint32_t>& sets) const {
    std::vector<LevelId> all;
    for (const std::uint32_t set : sets)
        all.insert(all.end(), sets_[set].begin(), sets_[set].end());
    if (sets.size() < 2) return all;
    std::sort(all.begin(), all.end());
    all.erase(std::unique(all.begin(), all.end()), all.end());
    return all;
}

NearStand NearSets::find_stand(std::uint32_t stand, const PlayerNow& now) {
    Inside inside(*this);
    inside.count(now);
    inside.note_came_near();
    const NearStand found{inside.may_be(), inside.there()};
    of_stands_.emplace(stand, found);
    return found;
}

std::uint32_t NearSets::path(flow::PlayerId mover, const PlayerNow* from, const MoveLog& log,
                             bool ends) {
    if (!folded_->any()) return 0;
    NearPath path;
    path.mover = mover;
    path.ends = ends;
    const bool launched =
        std::any_of(log.memory.begin(), log.memory.end(), [](const MoveLog::Memory& each) {
            return each.kind == MoveLog::Memory::Kind::launched;
        });
    path.frees = launched || !log.unloaded.empty();
    path.anew = launched || !log.lists.empty();
    Inside inside(*this);
    if (from != nullptr) inside.count(*from);
    // What others get into they may be out of again; it counts until the move has ended.
    const auto note = [&](std::uint32_t asked) {
        path.moments.push_back({inside.may_be(), path.anew ? inside.there() : asked});
    };
    if (mover) note(0);
    for (const MoveLog::Near& each : log.near) {
        const flow::Zone& zone = (*zones_)[each.zone];
        const bool goes = each.player == mover && !each.placed;
        if (!goes && !each.inside) continue;
        if (!each.inside) note(0);
        const bool comes = each.inside && zone.kind == flow::Zone::Kind::near_load &&
                           !inside.is_near(zone.level());
        inside.count(each.zone, each.inside);
        if (comes) note(number(folded_->family(zone.level())));
        if (comes) inside.note_came_near();
    }
    if (mover || path.anew) note(0);
    std::sort(path.moments.begin(), path.moments.end());
    path.moments.erase(std::unique(path.moments.begin(), path.moments.end()), path.moments.end());
    Key key{mover.value, path.anew ? 1U : 0U, path.frees ? 1U : 0U, path.ends ? 1U : 0U};
    for (const NearMoment& moment : path.moments) {
        key.push_back(moment.may_be);
        key.push_back(moment.asked);
    }
    return paths_.number(std::move(key), path);
}

} // namespace hestrel::explore
