#pragma once
// How long loading takes when nothing else is going on: the figure that a trigger's place and a
// wait's length are measured against.

#include "loading/catalogue.hpp"
#include "loading/piece_times.hpp"

#include <memory>
#include <optional>
#include <span>
#include <vector>

namespace hestrel::loading {

/// Levels to be asked for together, in a game where others are shown already.
struct IsolatedLoad {
    std::vector<plan::LevelId> there; ///< shown already, with all that comes with them; sorted
    std::vector<plan::LevelId> asked; ///< in order of asking
    plan::Priority priority = plan::Priority::soon;
    bool veiled = false; ///< a veil is up all the while
};

/// From the asking, at the start of a frame, until all that was asked for is ready, and is shown.
struct LoadTimes {
    plan::Micros ready;
    plan::Micros shown;
};

/// Loads them with a loader of their own; the work grows with what is asked for, not with the
/// catalogue. What is there already takes no time.
LoadTimes isolated_load(const Catalogue& catalogue, const IsolatedLoad& what);

/// One level's or kit's way through the loader; times are from the asking.
struct AlonePiece : PieceTimes {
    PieceId piece;
    std::optional<plan::Micros> shown; ///< of a level
};

/// Loads the same set of levels again and again, asked for in different orders.
class AloneLoader {
public:
    AloneLoader(const Catalogue& catalogue, const IsolatedLoad& what);
    ~AloneLoader();
    AloneLoader(const AloneLoader&) = delete;
    AloneLoader& operator=(const AloneLoader&) = delete;

    /// How many of the levels asked for are not there already; orders are of those, by number.
    [[nodiscard]] std::size_t count() const;
    /// The level that a number stands for.
    [[nodiscard]] plan::LevelId level(std::size_t number) const;
    /// How many pieces have to be read or made.
    [[nodiscard]] std::size_t pieces() const;

    /// When the last of `awaited` is shown (of those that are there already: at once), where the
    /// levels are asked for in `order`.
    [[nodiscard]] plan::Micros time_of(std::span<const std::size_t> order,
                                       std::span<const plan::LevelId> awaited) const;
    /// The pieces in order of asking, with times.
    [[nodiscard]] std::vector<AlonePiece> detail_of(std::span<const std::size_t> order) const;

private:
    struct Inside;
    std::unique_ptr<Inside> inside_;
};

/// No less than `isolated_load(…).shown`, and much cheaper: as if everything were done one after
/// another.
plan::Micros load_alone_at_most(const Catalogue& catalogue, const IsolatedLoad& what);

} // namespace hestrel::loading
