#pragma once
// The map: the world from above, and a route walked in it.

#include "figure/sheet.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <optional>
#include <vector>

namespace hestrel::figure {

/// Metres to pixels along one axis. Where nothing stands for long, the way is shortened.
class MapAxis {
public:
    /// `points`: where anything stands. At least one.
    explicit MapAxis(std::vector<double> points);

    /// A stretch of the axis between two points next to each other.
    struct Piece {
        double from = 0; ///< metres
        double to = 0;
        double drawn = 0; ///< metres it takes on the map
        bool shortened = false;
        double before = 0; ///< metres that those before it take
    };
    [[nodiscard]] const std::vector<Piece>& pieces() const { return pieces_; }
    [[nodiscard]] double drawn_length() const { return drawn_; } ///< metres of all pieces
    /// From 0 to 1 along what is drawn; beyond the ends it stays there.
    [[nodiscard]] double share(double metres) const;

private:
    std::vector<Piece> pieces_;
    double drawn_ = 0;
};

/// Where a player was at a moment.
struct Spot {
    plan::WorldId world;
    plan::Vec3 at{};
};
std::optional<Spot> spot_of(const plan::Plan& plan, const walk::Record& record,
                            std::uint32_t player, plan::Micros moment);

/// A stretch of a track that was walked within a time.
struct TrackPart {
    plan::WorldId world;
    plan::Vec3 from{};
    plan::Vec3 to{};
};
std::vector<TrackPart> walked_within(const plan::Plan& plan, const walk::Record& record,
                                     std::uint32_t player, plan::Micros from, plan::Micros to);

/// One panel for each world in which anything stands; unset where there is none.
std::optional<Figure> map_figure(const plan::Plan& plan, const walk::Record& record);

} // namespace hestrel::figure
