#pragma once
// Memory and frame time in a situation, and how much they can be during a move (docs/model.md
// sections 4 and 8).

#include "explore/situation.hpp"
#include "loading/catalogue.hpp"
#include "loading/memory_use.hpp"

#include <functional>
#include <optional>
#include <span>
#include <vector>

namespace hestrel::explore {

/// Memory, and the most work that a frame has for what is shown, no veil up; 0 where none counts.
struct Use : loading::MemoryUse {
    plan::Micros frame;

    void raise_to(const Use& other) {
        MemoryUse::raise_to(other);
        frame = std::max(frame, other.frame);
    }
};

/// What a move adds to what is held and shown before it, whatever that is.
struct UseAdded {
    loading::MemoryUse most; ///< memory beyond it
    /// What the longest frame has beyond what is shown before (it may be less); unset: none was
    /// looked at.
    std::optional<plan::Micros> frame;
    std::optional<Use> launched; ///< from a launch on, in all
};

/// Of one device, with so many players.
class Bounds {
public:
    Bounds(const plan::Plan& plan, plan::DeviceId device,
           const std::vector<plan::PlayerKindId>& players);

    /// With everything settled, and what is not needed released. Where players hurry: with what is
    /// on its way as if it were read, and what leaves.
    [[nodiscard]] Use settled(const std::vector<LevelThere>& levels,
                              const std::vector<plan::VeilId>& veils) const;

    /// What is held where a set of levels is there: without veils, and of what is on its way
    /// nothing.
    [[nodiscard]] loading::MemoryUse held(std::span<const LevelThere> levels) const;
    /// What being read and unpacked takes beside, where these may all be asked for at once.
    [[nodiscard]] plan::Bytes staged(std::span<const plan::LevelId> levels) const;
    /// What veils hold.
    [[nodiscard]] loading::MemoryUse held_by(const std::vector<plan::VeilId>& veils) const;
    /// What a frame has to do where these are shown.
    [[nodiscard]] plan::Micros frame_with(std::span<const plan::LevelId> shown) const {
        return catalogue_.frame.base + catalogue_.frame_cost(shown);
    }
    /// Whether a level that is not known holds a piece all the time.
    using HeldByOthers = std::function<bool(loading::PieceId)>;
    /// What a move adds, where `known` are all levels that it touches and all that are on their
    /// way or leave; with an empty log what those on their way add.
    [[nodiscard]] UseAdded added(std::span<const LevelThere> known,
                                 const std::vector<plan::VeilId>& veils, const MoveLog& log,
                                 const HeldByOthers& by_others) const;
    /// Those that a kit is one of the pieces of, in plan order.
    [[nodiscard]] std::vector<plan::LevelId> users_of(loading::PieceId piece) const;

    /// What a level costs in every frame while it is shown.
    [[nodiscard]] plan::Micros frame_cost(plan::LevelId level) const {
        return catalogue_.levels[level].frame_cost;
    }

    /// No unhurried walk of a move that begins so uses more at any moment. What a list asks for is
    /// held from then on; what is unloaded is held until all has settled, unless a switch releases
    /// it; of what was asked for, as many as there are workers also hold what was read.
    [[nodiscard]] Use during(const std::vector<LevelThere>& levels,
                             const std::vector<plan::VeilId>& veils, const MoveLog& log) const;

private:
    [[nodiscard]] std::vector<plan::Bytes> memory_of(plan::VeilId veil) const;

    const plan::Plan* plan_;
    loading::Catalogue catalogue_;
    loading::MemoryUse always_; ///< base and players
};

} // namespace hestrel::explore
