#pragma once
// Levels that stream by distance (docs/model.md section 5): asked for when a player comes near, let
// go when all are far. Each machine judges for its own players (section 11).

#include "flow/flow.hpp"
#include "flow/zones.hpp"

#include <cstdint>
#include <map>
#include <set>
#include <span>
#include <vector>

namespace hestrel::flow {

/// What near rules ask of the machine whose levels they ask for and let go.
class NearStage {
public:
    NearStage() = default;
    NearStage(const NearStage&) = delete;
    NearStage& operator=(const NearStage&) = delete;
    virtual ~NearStage() = default;

    /// Queued, in flight or loaded.
    [[nodiscard]] virtual bool is_asked(plan::LevelId level) const = 0;
    /// The same, and wanted shown.
    [[nodiscard]] virtual bool is_wanted(plan::LevelId level) const = 0;
    /// A switch keeps it from being let go.
    [[nodiscard]] virtual bool is_held(plan::LevelId level) const = 0;
    /// Whether anything can come of players being near it.
    [[nodiscard]] virtual bool can_come([[maybe_unused]] plan::LevelId level) const { return true; }
    /// A switch leads to another variant of its place.
    [[nodiscard]] virtual bool is_refused(plan::LevelId level) const = 0;
    /// It is asked for, and wanted sooner.
    virtual void raise_near(plan::LevelId level) = 0;
    /// It is to be shown.
    virtual void come_near(plan::LevelId level) = 0;
    virtual void near_refused(plan::LevelId level) = 0;
    /// It is to be let go.
    virtual void go_far(plan::LevelId level) = 0;
    virtual void far_refused(plan::LevelId level) = 0;
};

/// Of which zones it was asked whether a player is inside, for who goes from situation to
/// situation.
class AskedZones {
public:
    AskedZones(std::size_t players, std::size_t zones)
        : by_player_(players, {std::vector<bool>(zones), {}}) {}

    void ask(PlayerId player, ZoneId zone) { by_player_[player.value].ask(zone); }
    void ask_all(std::span<const ZoneId> zones) {
        for (Asked& asked : by_player_) {
            for (const ZoneId zone : zones) asked.ask(zone);
        }
    }
    /// Each once, sorted.
    [[nodiscard]] std::vector<ZoneId> of(PlayerId player) const;
    void forget();

private:
    struct Asked {
        std::vector<bool> is_asked;
        std::vector<ZoneId> zones;
        void ask(ZoneId zone) {
            if (is_asked[zone.value]) return;
            is_asked[zone.value] = true;
            zones.push_back(zone);
        }
    };
    std::vector<Asked> by_player_;
};

/// All near rules of a plan, and the players of one machine who set them off.
class NearRules {
public:
    /// `asked`: is told of what is asked, where anybody wants to know.
    NearRules(const plan::Plan& plan, const Zones& zones, const Flow& flow, NearStage& stage,
              const std::vector<PlayerId>& players, AskedZones* asked = nullptr);

    /// A player got into a zone, or out of it.
    void enter(PlayerId player, ZoneId id);
    void leave(PlayerId player, ZoneId id);
    /// Rules are to be judged as if every player had just come.
    void rejudge();
    /// Carries out what has come of all that; true where anything did.
    bool judge();
    /// The game is launched again: as it was before anything happened, with nobody anywhere.
    void launch();

    // For who goes from situation to situation.

    /// A player is inside of a zone, or no more, and nothing comes of it.
    void count(PlayerId player, ZoneId id, bool inside);
    /// Once all players, facts and levels are as they are to be: nothing is to be judged.
    void resume_judged();

private:
    std::uint32_t& boxes(plan::LevelId level, PlayerId player) {
        return boxes_[row_[level] * players_ + slots_[player.value]];
    }
    bool judge_conditions();
    bool let_go_far(plan::LevelId level);
    void ask_all(plan::LevelId level) {
        if (asked_ != nullptr && stage_->can_come(level)) asked_->ask_all(zones_of_[level]);
    }

    const plan::Plan* plan_;
    const Zones* zones_;
    const Flow* flow_;
    NearStage* stage_;
    AskedZones* asked_;

    std::size_t players_;
    std::vector<std::uint32_t> slots_;                         ///< of those players, by player
    std::vector<plan::LevelId> levels_;                        ///< that stream by distance
    plan::Table<plan::LevelId, std::uint32_t> row_;            ///< of those, their place among them
    plan::Table<plan::LevelId, std::vector<ZoneId>> zones_of_; ///< of both distances

    std::vector<std::uint32_t> boxes_; ///< by level and player: boxes within `load`
    plan::Table<plan::LevelId, std::uint32_t> players_near_;  ///< players near any box
    plan::Table<plan::LevelId, std::uint32_t> not_far_boxes_; ///< boxes of all within `unload`
    /// Those that do so under a condition, by it: cells of a world share one.
    std::map<plan::ConditionId, std::vector<plan::LevelId>> sometimes_;
    plan::Table<plan::LevelId, bool> acts_; ///< its condition held when last judged
    std::set<plan::LevelId> came_near_;     ///< not judged yet
    std::set<plan::LevelId> went_far_;
};

} // namespace hestrel::flow
