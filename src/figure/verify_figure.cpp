#include "figure/verify_figure.hpp"

#include "figure/frame.hpp"
#include "plan/names.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <vector>

namespace hestrel::figure {

using plan::Micros;
using verify::Outcome;
using What = Outcome::What;

namespace {

constexpr std::size_t most_bars = 40;
constexpr double play_row_height = 26;
constexpr double bar_height = 9;
constexpr double sheet_width = 1200;

/// One load: from when it was asked for until it was there.
struct LoadBars {
    const Outcome* outcome = nullptr;
    std::string name;
    Micros from; ///< since the end of the boot

    [[nodiscard]] std::int64_t off() const {
        const bool both = outcome->planned && outcome->measured;
        return both ? std::abs(outcome->off.count) : std::numeric_limits<std::int64_t>::max();
    }
};

std::string_view colour_of(What what) {
    switch (what) {
    case What::as_planned: return palette::shown;
    case What::later: return palette::overrun;
    case What::earlier: return palette::enough_slack;
    default: return palette::unpacking;
    }
}

std::string name_of(const plan::Plan& plan, const verify::SessionResult& session,
                    const Outcome& outcome) {
    const std::string& level = plan.levels[plan::LevelId{outcome.subject}].name;
    if (outcome.transition == 0) return outcome.planned ? level + " (boot)" : level;
    return fmt::format(
        "{} ({})", level,
        tables::cause_text(plan, session.replay.record.transitions[outcome.transition - 1]));
}

/// In order of time. A load that came by itself begins where the log first tells of it.
std::vector<LoadBars> rows_of(const plan::Plan& plan, const verify::SessionResult& session) {
    std::vector<LoadBars> rows;
    for (const Outcome& outcome : session.outcomes) {
        if (outcome.subject >= plan.levels.size() || !outcome.arrival) continue;
        LoadBars row{&outcome, name_of(plan, session, outcome), outcome.since};
        if (!outcome.planned || outcome.adopted) row.from = *outcome.measured;
        rows.push_back(std::move(row));
    }
    if (rows.size() > most_bars) {
        std::stable_sort(rows.begin(), rows.end(), [](const LoadBars& one, const LoadBars& other) {
            return one.off() > other.off();
        });
        rows.resize(most_bars);
    }
    std::stable_sort(rows.begin(), rows.end(), [](const LoadBars& one, const LoadBars& other) {
        return one.from < other.from;
    });
    return rows;
}

class BarsDrawing {
public:
    BarsDrawing(const verify::SessionResult& session, const TimeFrame& frame, double top,
                Sheet& sheet)
        : session_(session), frame_(frame), top_(top), sheet_(sheet) {}

    void row(const LoadBars& row, std::size_t number) {
        const double top = top_ + static_cast<double>(number) * play_row_height + 3;
        sheet_.text({{frame_.left - 8, top + bar_height},
                     row.name,
                     Align::right,
                     normal_text,
                     palette::ink});
        const Outcome& outcome = *row.outcome;
        if (outcome.measured)
            bar(row.from, *outcome.measured, top,
                outcome.adopted ? palette::unpacking : colour_of(outcome.what),
                row.name + " in the game");
        else
            sheet_.text({{x(row.from) + 4, top + bar_height / 2},
                         "never came",
                         Align::left,
                         small_text,
                         palette::overrun});
        const bool off = outcome.what == What::later || outcome.what == What::earlier;
        if (off && !outcome.adopted) by_how_much(outcome, row.from, top + bar_height / 2);
        if (outcome.planned && !outcome.adopted)
            bar(row.from, *outcome.planned, top + bar_height + 1, palette::others,
                row.name + " by the plan");
    }

private:
    /// Behind the bar, or before it where there is no room.
    void by_how_much(const Outcome& outcome, Micros from, double middle) {
        const std::string text = (outcome.off.count > 0 ? "+" : "") + plan::short_time(outcome.off);
        const double behind = x(*outcome.measured) + 4;
        const bool fits = behind + text_width(text, small_text) < frame_.right;
        sheet_.text({{fits ? behind : x(from) - 4, middle},
                     text,
                     fits ? Align::left : Align::right,
                     small_text,
                     palette::muted});
    }
    [[nodiscard]] double x(Micros at) const { return frame_.x(at + session_.session.boot_end); }
    void bar(Micros from, Micros to, double top, std::string_view colour, const std::string& what) {
        constexpr double least = 2; // what is too short to see is a line
        const Extent extent{{x(std::min(from, to)), top},
                            {std::max(x(to), x(from) + least), top + bar_height}};
        sheet_.rect(extent, colour);
        sheet_.hot(extent, fmt::format("{}\n{:.2f} to {:.2f} s ({})", what,
                                       plan::in_seconds(from + session_.session.boot_end),
                                       plan::in_seconds(to + session_.session.boot_end),
                                       plan::short_time(to - from)));
    }

    const verify::SessionResult& session_;
    const TimeFrame& frame_;
    double top_;
    Sheet& sheet_;
};

std::vector<Swatch> legend_of(const std::vector<LoadBars>& rows) {
    const auto any = [&](auto such) { return std::any_of(rows.begin(), rows.end(), such); };
    const auto is = [](What what) {
        return [what](const LoadBars& row) {
            return !row.outcome->adopted && row.outcome->what == what;
        };
    };
    std::vector<Swatch> legend;
    if (any(is(What::as_planned))) legend.push_back({"in the game, as planned", palette::shown});
    if (any(is(What::later))) legend.push_back({"in the game, later", palette::overrun});
    if (any(is(What::earlier))) legend.push_back({"in the game, earlier", palette::enough_slack});
    if (any([](const LoadBars& row) {
            return row.outcome->adopted || row.outcome->what == What::unplanned;
        }))
        legend.push_back({"in the game, by itself", palette::unpacking});
    legend.push_back({"by the plan", palette::others});
    return legend;
}

} // namespace

Figure verify_figure(const plan::Plan& plan, const std::string& log,
                     const verify::SessionResult& session) {
    const std::vector<LoadBars> rows = rows_of(plan, session);
    const std::string title = fmt::format("{} beside the plan – {}", log, plan.name);
    double names = 0;
    for (const LoadBars& row : rows) names = std::max(names, text_width(row.name, normal_text));
    const std::vector<Swatch> legend = legend_of(rows);
    TimeFrame frame;
    frame.width = sheet_width;
    frame.left = names + 2 * margin;
    frame.right = sheet_width - margin;
    frame.end = std::max(session.session.end + session.session.boot_end, plan::seconds(1));
    const double legend_top = title_height(title, frame.width) + 4;
    const double top =
        legend_top +
        legend_line(nullptr, {frame.left, legend_top}, frame.right - frame.left, legend) + 6;
    const double bottom =
        top + play_row_height * static_cast<double>(std::max<std::size_t>(rows.size(), 1));
    std::size_t off = 0;
    for (const LoadBars& row : rows) off += row.outcome->what == What::as_planned ? 0 : 1;
    Figure figure{Sheet(frame.width, bottom + time_axis_height), title,
                  fmt::format("{}, {} not as planned.", plan::counted(rows.size(), "load"),
                              plan::grouped(off))};
    draw_title(figure.sheet, title);
    legend_line(&figure.sheet, {frame.left, legend_top}, frame.right - frame.left, legend);
    draw_time_axis(figure.sheet, frame, top, bottom);
    BarsDrawing drawing(session, frame, top, figure.sheet);
    for (std::size_t i = 0; i < rows.size(); ++i) drawing.row(rows[i], i);
    return figure;
}

} // namespace hestrel::figure
