#include "explore/round_trips.hpp"

#include "plan/questions.hpp"

#include <algorithm>

namespace hestrel::explore {

using plan::LevelId;

namespace {

class RoundTripSearch {
public:
    explicit RoundTripSearch(const Explorer& explorer)
        : explorer_(explorer), plan_(explorer.plan()), sets_(explorer.level_sets()),
          part_of_(sets_.size(), UINT32_MAX), known_(plan_.levels.size()) {
        for (const LevelId level : plan_.levels.ids()) {
            if (!plan_.levels[level].persist && !plan::goes_by_distance(plan_, level))
                told_.push_back(level);
        }
    }

    std::vector<RoundTrip> take() {
        if (told_.empty()) return {};
        const std::size_t places = plan_.waypoints.size() + 1; // nowhere is one, too
        std::vector<bool> seen;
        for (std::uint32_t there = 0; there < explorer_.visited(); ++there) {
            const Word* row = explorer_.row(there);
            const std::size_t part = part_of(explorer_.level_number(row));
            if (seen.size() < (part + 1) * places) seen.resize((part + 1) * places);
            for (std::size_t player = 0; player < explorer_.players().size(); ++player) {
                const plan::WaypointId at = explorer_.player_of(row, player).at;
                const std::size_t place = part * places + (at ? at.value : places - 1);
                if (seen[place]) continue;
                seen[place] = true;
                look_back(there);
            }
        }
        return std::move(found_);
    }

private:
    /// Which of the levels that are told of are there in a set, by number.
    std::uint32_t part_of(std::uint32_t set) {
        std::uint32_t& part = part_of_[set];
        if (part != UINT32_MAX) return part;
        Key key;
        for (const LevelId level : told_) {
            if (sets_.is_there(set, level)) key.push_back(level.value);
        }
        return part = parts_.number(std::move(key), true);
    }
    void look_back(std::uint32_t there) {
        const std::uint32_t more = explorer_.level_number(explorer_.row(there));
        for (std::uint32_t before = there; before != explorer_.parent(before);) {
            before = explorer_.parent(before);
            const std::uint32_t less = explorer_.level_number(explorer_.row(before));
            if (part_of(less) == part_of(more) || !same_place(before, there)) continue;
            const bool within = std::all_of(told_.begin(), told_.end(), [&](LevelId level) {
                return sets_.is_there(more, level) || !sets_.is_there(less, level);
            });
            if (!within) continue;
            for (const LevelId level : told_) {
                if (known_[level] || !sets_.is_there(more, level) || sets_.is_there(less, level))
                    continue;
                known_[level] = true;
                found_.push_back({level, before, there});
            }
        }
    }
    [[nodiscard]] bool same_place(std::uint32_t one, std::uint32_t other) const {
        const Word* row = explorer_.row(one);
        const Word* same = explorer_.row(other);
        const flow::State& control = explorer_.control_of(row);
        const flow::State& as = explorer_.control_of(same);
        if (control.position != as.position || control.open_menus != as.open_menus) return false;
        for (std::size_t player = 0; player < explorer_.players().size(); ++player) {
            const plan::WaypointId at = explorer_.player_of(row, player).at;
            if (!at || at != explorer_.player_of(same, player).at) return false;
        }
        return true;
    }

    const Explorer& explorer_;
    const plan::Plan& plan_;
    const LevelSets& sets_;
    std::vector<LevelId> told_;
    std::vector<std::uint32_t> part_of_; ///< by set
    Interned<bool> parts_;
    plan::Table<LevelId, bool> known_;
    std::vector<RoundTrip> found_;
};

} // namespace

std::vector<RoundTrip> round_trips(const Explorer& explorer) {
    return RoundTripSearch(explorer).take();
}

} // namespace hestrel::explore
