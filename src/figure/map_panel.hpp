#pragma once
// One world on a sheet, from above or from the side: what a map is made of.

#include "figure/heaps.hpp"
#include "figure/labels.hpp"
#include "figure/map_axis.hpp"
#include "figure/plain_names.hpp"
#include "figure/sheet.hpp"
#include "geometry/footprints.hpp"
#include "plan/plan.hpp"

#include <array>
#include <functional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::figure {

/// From above x goes to the right and z down; from the side x goes to the right and y up.
enum class Looking : std::uint8_t { down, along };

/// What lies where, worked out once for all panels of a plan.
struct MapGround {
    explicit MapGround(const plan::Plan& of);

    const plan::Plan& plan;
    plan::Table<plan::LevelId, std::vector<geometry::Footprint>> footprints;
    PlainNames triggers, gates, waypoints;
};

/// Where a panel lies on the sheet, and which metres it shows.
struct MapFrame {
    Extent room;
    MapAxis across;
    MapAxis down;
    Looking looking = Looking::down;

    [[nodiscard]] Point at(const plan::Vec3& place) const;
};

/// Metres along an axis (0: x, 1: y, 2: z) at which anything of a world stands.
std::vector<double> stands_along(const plan::Plan& plan, plan::WorldId world, std::size_t axis);

/// Draws a world. Ground first, then what happens on it, then `finish`.
class MapPanel {
public:
    static constexpr double above = 30;     ///< room above a panel, for names
    static constexpr double axis_room = 40; ///< below it

    MapPanel(const MapGround& ground, plan::WorldId world, Sheet& sheet, const MapFrame& frame);

    /// Areas, paths, triggers. Cells of grids that are among `shown` are darker.
    void draw_ground(const std::set<plan::LevelId>& shown);
    /// Gates and waypoints, which stand on what was walked. Once: what is to lie on them, too, is
    /// drawn after this.
    void draw_places();
    /// Names, as many as there is room for, and the axis. How many found none.
    std::size_t finish();

    // What happens there.
    [[nodiscard]] Point at(const plan::Vec3& place) const { return frame_.at(place); }
    void line(const plan::Vec3& from, const plan::Vec3& to, std::string_view colour, double width);
    void diamond(const plan::Vec3& place, std::string_view colour, const std::string& said);
    /// A disc with a name beside it.
    void disc(const plan::Vec3& place, double radius, std::string_view colour,
              const std::string& said, const std::string& name);
    /// Keeps names off a line.
    void block(Point from, Point to);
    /// Whether a line is one that can't be told from those drawn before, where there are many.
    bool is_drawn(std::set<std::array<long, 4>>& drawn, Point from, Point to) const;

private:
    struct Name {
        std::string text;
        Extent thing;
        bool inside = false;
        std::string_view colour;
        double size = small_text;
    };

    [[nodiscard]] std::vector<Point> at(const std::vector<plan::Vec3>& places) const;
    [[nodiscard]] std::vector<Point> outline_of(const geometry::Footprint& of) const;
    [[nodiscard]] std::vector<Point> outline_of(const plan::Box& box) const;
    /// Empty for one without bounds, but for a line across the panel.
    [[nodiscard]] std::vector<Point> outline_of(const plan::Shape& shape) const;
    void outline(std::vector<Point> points, std::string_view colour, double width, Dash dash);
    void outline(const Heaps::Heap& heap, std::string_view colour, double width, Dash dash);
    template <class Draw>
    void draw_heaps(const Heaps& heaps, const std::string& kind, Name alone, Draw draw);
    void grids(const std::set<plan::LevelId>& shown);
    void areas();
    void many_areas();
    void paths();
    void triggers();
    void gates();
    void waypoints();
    void names();
    void axis();

    const MapGround& ground_;
    const plan::Plan& plan_;
    plan::WorldId world_;
    Sheet& sheet_;
    MapFrame frame_;
    Labels labels_;
    std::vector<Name> names_;
    std::size_t left_out_ = 0;
    bool places_drawn_ = false;
    bool crowded_ = false; ///< what can hardly be told apart is drawn together
};

} // namespace hestrel::figure
