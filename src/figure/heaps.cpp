#include "figure/heaps.hpp"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace hestrel::figure {

void Heaps::add(const std::vector<Point>& points, const Extent& thing, const std::string& name) {
    constexpr double apart = 8; // pixels
    const std::array<long, 4> key{std::lround(thing.from.x / apart),
                                  std::lround(thing.from.y / apart),
                                  std::lround(thing.to.x / apart), std::lround(thing.to.y / apart)};
    const auto [heap, fresh] = heaps_.try_emplace(key, Heap{thing, {}, points});
    Extent& extent = heap->second.extent;
    if (!fresh)
        extent = {{std::min(extent.from.x, thing.from.x), std::min(extent.from.y, thing.from.y)},
                  {std::max(extent.to.x, thing.to.x), std::max(extent.to.y, thing.to.y)}};
    heap->second.names.push_back(name);
}

std::vector<Heaps::Heap> Heaps::all() const {
    std::vector<Heap> all;
    for (const auto& [place, heap] : heaps_) all.push_back(heap);
    return all;
}

std::string said_of(const std::string& kind, const std::vector<std::string>& names) {
    constexpr std::size_t most = 12;
    if (names.size() == 1) return fmt::format("{} {}", kind, names.front());
    std::string said = fmt::format("{} {}s: ", names.size(), kind);
    for (std::size_t i = 0; i < std::min(most, names.size()); ++i)
        said += (i == 0 ? "" : ", ") + names[i];
    if (names.size() > most) said += fmt::format(" and {} more", names.size() - most);
    return said;
}

} // namespace hestrel::figure
