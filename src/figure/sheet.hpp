#pragma once
// A sheet of paper, in pixels from the top left: what figures are made of before gnuplot draws
// them. Every text's place is known, so that figures can keep texts apart and tests can hold them
// to it.

#include <cstdint>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace hestrel::figure {

struct Point {
    double x = 0;
    double y = 0;
};

/// An upright rectangle: `from` is its top left corner.
struct Extent {
    Point from;
    Point to;
    [[nodiscard]] double width() const { return to.x - from.x; }
    [[nodiscard]] double height() const { return to.y - from.y; }
    [[nodiscard]] bool meets(const Extent& other) const {
        return from.x < other.to.x && other.from.x < to.x && from.y < other.to.y &&
               other.from.y < to.y;
    }
};

enum class Align : std::uint8_t { left, centre, right };
enum class Fill : std::uint8_t { solid, hatched };
enum class Dash : std::uint8_t { solid, dashed, dotted };

/// Text sizes in pixels.
constexpr double small_text = 11;
constexpr double normal_text = 12;
constexpr double title_text = 15;

/// One line of text; `at` is the middle of its height. Turned texts rise from left to right.
struct Text {
    Point at;
    std::string text;
    Align align = Align::left;
    double size = normal_text;
    std::string_view colour;
    double turn = 0; ///< degrees, 0 or up to 90
};

/// A part of a figure that says more when pointed at; lines are separated by '\n'.
struct Hot {
    Extent extent;
    std::string text;
};

/// How wide a text is, in pixels: exact for printable ASCII in DejaVu Sans, else an estimate.
double text_width(std::string_view text, double size);
/// The room that a text takes; of a turned one the upright rectangle around it.
Extent extent_of(const Text& text);
/// The same text on one line: line breaks are spaces.
std::string on_one_line(std::string_view text);
/// A text in lines of at most `width` pixels, broken at spaces where it can be, else anywhere.
std::vector<std::string> wrapped(std::string_view text, double size, double width);

/// Things are drawn in the order in which they are added, texts on top of all of them.
class Sheet {
public:
    Sheet(double width, double height) : width_(width), height_(height) {}

    void polygon(std::vector<Point> corners, std::string_view colour, Fill fill = Fill::solid);
    void rect(const Extent& extent, std::string_view colour, Fill fill = Fill::solid);
    void line(std::vector<Point> points, std::string_view colour, double width = 1,
              Dash dash = Dash::solid);
    void frame(const Extent& extent, std::string_view colour, double width = 1,
               Dash dash = Dash::solid);
    void disc(Point centre, double radius, std::string_view colour);
    void diamond(Point centre, double radius, std::string_view colour);
    void text(Text text) { texts_.push_back(std::move(text)); }
    void hot(const Extent& extent, std::string text) { hot_.push_back({extent, std::move(text)}); }

    [[nodiscard]] double width() const { return width_; }
    [[nodiscard]] double height() const { return height_; }
    [[nodiscard]] const std::vector<Text>& texts() const { return texts_; }
    [[nodiscard]] const std::vector<Hot>& hots() const { return hot_; }

    /// As a gnuplot script, without terminal and output.
    [[nodiscard]] std::string script() const;

private:
    struct Drawn {
        bool filled = true;
        std::string_view colour;
        Fill fill = Fill::solid;
        double width = 1;
        Dash dash = Dash::solid;
        std::vector<std::vector<Point>> shapes; ///< all drawn alike
        [[nodiscard]] bool like(const Drawn& other) const;
    };
    void add(Drawn drawn, std::vector<Point> shape);

    double width_;
    double height_;
    std::vector<Drawn> drawn_;
    std::vector<Text> texts_;
    std::vector<Hot> hot_;
};

/// A figure before it is drawn.
struct Figure {
    Sheet sheet{0, 0};
    std::string title;       ///< what it shows, of which plan, route and device
    std::string description; ///< what it says, for those who can't see it
};

} // namespace hestrel::figure
