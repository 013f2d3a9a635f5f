#include "figure/map_axis.hpp"

#include <algorithm>
#include <cstddef>

namespace hestrel::figure {

namespace {

/// Shortens what takes more than a quarter of all, which says little: an eighth of the rest is
/// enough. Where little stands, distances are what there is to see.
void shorten(std::vector<MapAxis::Piece>& pieces, double drawn) {
    constexpr double too_much = 0.25;
    constexpr double enough = 0.125;
    constexpr std::size_t few_pieces = 12;
    while (pieces.size() >= few_pieces) {
        auto longest =
            std::max_element(pieces.begin(), pieces.end(), [](const auto& one, const auto& other) {
                return one.drawn < other.drawn;
            });
        const double rest = drawn - longest->drawn;
        if (longest->shortened || longest->drawn <= too_much * drawn || !(rest > 0)) break;
        longest->shortened = true;
        longest->drawn = enough * rest;
        drawn = rest + longest->drawn;
    }
}

} // namespace

MapAxis::MapAxis(std::vector<double> points) {
    std::sort(points.begin(), points.end());
    points.erase(std::unique(points.begin(), points.end()), points.end());
    for (std::size_t i = 0; i + 1 < points.size(); ++i)
        pieces_.push_back({points[i], points[i + 1], points[i + 1] - points[i]});
    if (pieces_.empty()) // all stands on one line
        pieces_.push_back({points.front() - 1, points.front() + 1, 2});
    else
        shorten(pieces_, points.back() - points.front());
    for (Piece& piece : pieces_) {
        piece.before = drawn_;
        drawn_ += piece.drawn;
    }
}

double MapAxis::share(double metres) const {
    const auto piece = std::upper_bound(pieces_.begin(), pieces_.end(), metres,
                                        [](double at, const Piece& each) { return at < each.to; });
    if (piece == pieces_.end()) return 1;
    const double part = std::max(0.0, (metres - piece->from) / (piece->to - piece->from));
    return (piece->before + piece->drawn * part) / drawn_;
}

} // namespace hestrel::figure
