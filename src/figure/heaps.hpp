#pragma once
// Where a figure would draw very many things, those that can hardly be told apart are one.

#include "figure/sheet.hpp"

#include <array>
#include <map>
#include <string>
#include <vector>

namespace hestrel::figure {

/// Things that lie where others lie, to within a few pixels.
class Heaps {
public:
    struct Heap {
        Extent extent; ///< of all of them
        std::vector<std::string> names;
        std::vector<Point> points; ///< of the first
    };

    void add(const std::vector<Point>& points, const Extent& thing, const std::string& name);
    [[nodiscard]] std::vector<Heap> all() const;

private:
    std::map<std::array<long, 4>, Heap> heaps_;
};

/// What it is that lies there.
std::string said_of(const std::string& kind, const std::vector<std::string>& names);

} // namespace hestrel::figure
