#include "figure/labels.hpp"

#include <algorithm>

namespace hestrel::figure {

namespace {

constexpr double gap = 3; ///< between a thing and its name

constexpr double cell_width = 64;
constexpr double cell_height = 24;

std::size_t cells_in(double length, double each) {
    return static_cast<std::size_t>(std::max(length, 0.0) / each) + 1;
}

/// Which of so many cells a distance from the first one's beginning falls into; the first and the
/// last reach on for ever.
std::size_t cell_at(double distance, double each, std::size_t cells) {
    if (distance <= 0) return 0;
    return std::min(static_cast<std::size_t>(std::min(distance / each, 1e6)), cells - 1);
}

} // namespace

Labels::Labels(const Extent& room)
    : room_(room), columns_(cells_in(room.width(), cell_width)),
      rows_(cells_in(room.height(), cell_height)), taken_(columns_ * rows_) {}

template <class Each>
bool Labels::in_cells(const Extent& extent, Each each) const {
    const std::size_t left = cell_at(extent.from.x - room_.from.x, cell_width, columns_);
    const std::size_t right = cell_at(extent.to.x - room_.from.x, cell_width, columns_);
    const std::size_t last = cell_at(extent.to.y - room_.from.y, cell_height, rows_);
    for (std::size_t row = cell_at(extent.from.y - room_.from.y, cell_height, rows_); row <= last;
         ++row) {
        for (std::size_t column = left; column <= right; ++column) {
            if (each(row * columns_ + column)) return true;
        }
    }
    return false;
}

void Labels::block(const Extent& extent) {
    in_cells(extent, [&](std::size_t cell) {
        taken_[cell].push_back(extent);
        return false;
    });
}

bool Labels::covers(const Extent& extent) const {
    return in_cells(extent, [&](std::size_t cell) {
        return std::any_of(taken_[cell].begin(), taken_[cell].end(),
                           [&](const Extent& taken) { return extent.meets(taken); });
    });
}

bool Labels::place(Sheet& sheet, const std::vector<Text>& places) {
    for (const Text& text : places) {
        const Extent extent = extent_of(text);
        const bool inside = room_.from.x <= extent.from.x && extent.to.x <= room_.to.x &&
                            room_.from.y <= extent.from.y && extent.to.y <= room_.to.y;
        if (!inside || covers(extent)) continue;
        block(extent);
        sheet.text(text);
        return true;
    }
    return false;
}

std::vector<Text> places_around(const Extent& thing, const std::string& name, double size,
                                std::string_view colour) {
    const Point middle{(thing.from.x + thing.to.x) / 2, (thing.from.y + thing.to.y) / 2};
    std::vector<Text> places;
    const auto add = [&](Point at, Align align) {
        places.push_back({at, name, align, size, colour});
    };
    for (const double off : {gap, gap + size}) {
        const double above = thing.from.y - off - size / 2;
        const double below = thing.to.y + off + size / 2;
        if (off == gap) {
            add({thing.to.x + gap, middle.y}, Align::left);
            add({thing.from.x - gap, middle.y}, Align::right);
        }
        for (const double y : {above, below}) {
            add({middle.x, y}, Align::centre);
            add({thing.to.x, y}, Align::left);
            add({thing.from.x, y}, Align::right);
            add({thing.from.x, y}, Align::left);
            add({thing.to.x, y}, Align::right);
        }
    }
    return places;
}

std::vector<Text> places_inside(const Extent& area, const std::string& name, double size,
                                std::string_view colour) {
    std::vector<Text> places;
    const Point middle{(area.from.x + area.to.x) / 2, (area.from.y + area.to.y) / 2};
    constexpr double edge = 1.5; // between a name and the edge of its area
    const double wide = text_width(name, size) + 2 * edge;
    if (wide <= area.width() && size <= area.height()) {
        const double first = area.from.y + edge + size / 2;
        const double last = area.to.y - edge - size / 2;
        for (const double y : {first, last, middle.y}) {
            places.push_back({{area.from.x + edge, y}, name, Align::left, size, colour});
            places.push_back({{area.to.x - edge, y}, name, Align::right, size, colour});
            places.push_back({{middle.x, y}, name, Align::centre, size, colour});
        }
    }
    // Outside only right beside it: further off it would seem to be another's.
    places.push_back({{area.to.x + gap, middle.y}, name, Align::left, size, colour});
    places.push_back({{area.from.x - gap, middle.y}, name, Align::right, size, colour});
    places.push_back({{middle.x, area.from.y - gap - size / 2}, name, Align::centre, size, colour});
    places.push_back({{middle.x, area.to.y + gap + size / 2}, name, Align::centre, size, colour});
    return places;
}

} // namespace hestrel::figure
