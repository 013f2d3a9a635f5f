#pragma once
// Names beside things, none over another.

#include "figure/sheet.hpp"

#include <vector>

namespace hestrel::figure {

/// Puts names where there is room for them.
class Labels {
public:
    /// Names stay inside `room`.
    explicit Labels(const Extent& room);

    /// No name may cover this.
    void block(const Extent& extent);

    /// Tries the places in order and writes the name at the first that is free; false where none
    /// is.
    bool place(Sheet& sheet, const std::vector<Text>& places);

private:
    /// Calls `each` with every cell of the room that an extent reaches into, until it returns true;
    /// whether it did.
    template <class Each>
    bool in_cells(const Extent& extent, Each each) const;
    [[nodiscard]] bool covers(const Extent& extent) const;

    Extent room_;
    std::size_t columns_;
    std::size_t rows_;
    std::vector<std::vector<Extent>> taken_; ///< by cell of the room, row by row
};

/// The places around a thing for its name: right, left, above, below, and further off.
std::vector<Text> places_around(const Extent& thing, const std::string& name, double size,
                                std::string_view colour);
/// The places inside an area for its name: its corners and middle; then right beside it.
std::vector<Text> places_inside(const Extent& area, const std::string& name, double size,
                                std::string_view colour);

} // namespace hestrel::figure
