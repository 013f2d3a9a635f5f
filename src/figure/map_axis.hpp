#pragma once
// An axis of the map: metres to shares of its length, long empty ways shortened.

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

} // namespace hestrel::figure
