#include "figure/loads_figure.hpp"

#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <map>
#include <set>

namespace hestrel::figure {

using loading::PieceId;
using plan::Micros;
using walk::LevelCondition;
using walk::Stretch;

namespace {

constexpr double load_bar_height = 12;

bool is_on_its_way(LevelCondition condition) {
    return condition == LevelCondition::queued || condition == LevelCondition::reading ||
           condition == LevelCondition::unpacking || condition == LevelCondition::making ||
           condition == LevelCondition::attaching;
}

struct Ranked {
    std::vector<PieceId> pieces; ///< one, or all cells of a grid that were ever asked for
    Micros since;                ///< asked for, or a gap because it was not
    Micros taken;                ///< how long it was on its way, in all
    bool has_gap = false;
    plan::GridId grid = {};
};

std::vector<Ranked> ranked_pieces(const plan::Plan& plan, const walk::Record& record,
                                  const walk::Timeline& timeline) {
    std::map<plan::GridId, std::size_t> grids;
    std::map<plan::LevelId, Micros> gaps; // the first of each level
    for (const walk::Gap& gap : record.gaps) gaps.try_emplace(gap.level, gap.from);
    std::vector<Ranked> pieces;
    for (const PieceId piece : timeline.ids()) {
        const auto first_gap = gaps.find(plan::LevelId{piece.value});
        const bool has_gap = first_gap != gaps.end();
        if (timeline[piece].empty() && !has_gap) continue; // it was never asked for, nor needed
        Micros since = has_gap ? first_gap->second : Micros::never();
        if (!timeline[piece].empty()) since = std::min(since, timeline[piece].front().from);
        Ranked ranked{{piece}, since, {}, has_gap};
        if (piece.value < plan.levels.size())
            ranked.grid = plan.levels[plan::LevelId{piece.value}].grid;
        for (const Stretch& stretch : timeline[piece]) {
            if (is_on_its_way(stretch.condition)) ranked.taken += stretch.to - stretch.from;
        }
        if (ranked.grid) {
            const auto [row, fresh] = grids.try_emplace(ranked.grid, pieces.size());
            if (!fresh) {
                Ranked& cells = pieces[row->second];
                cells.pieces.push_back(piece);
                cells.since = std::min(cells.since, since);
                cells.taken += ranked.taken;
                cells.has_gap = cells.has_gap || has_gap;
                continue;
            }
        }
        pieces.push_back(std::move(ranked));
    }
    return pieces;
}

/// The time in which any of several pieces is in a condition that is `such`.
template <class Such>
std::vector<Stretch> together(const walk::Timeline& timeline, const std::vector<PieceId>& pieces,
                              LevelCondition as, Such such) {
    std::vector<Stretch> all;
    for (const PieceId piece : pieces) {
        for (const Stretch& stretch : timeline[piece]) {
            if (such(stretch.condition)) all.push_back(stretch);
        }
    }
    std::sort(all.begin(), all.end(),
              [](const Stretch& one, const Stretch& other) { return one.from < other.from; });
    std::vector<Stretch> joined;
    for (const Stretch& stretch : all) {
        if (!joined.empty() && stretch.from <= joined.back().to) {
            joined.back().to = std::max(joined.back().to, stretch.to);
        } else {
            joined.push_back({as, stretch.from, stretch.to});
        }
    }
    return joined;
}

/// When some of them are on their way.
std::vector<Stretch> on_their_way(const walk::Timeline& timeline,
                                  const std::vector<PieceId>& pieces) {
    return together(timeline, pieces, LevelCondition::reading, &is_on_its_way);
}

/// When some cells are shown, and over that when some are on their way.
std::vector<Stretch> of_cells(const walk::Timeline& timeline, const std::vector<PieceId>& pieces) {
    std::vector<Stretch> all =
        together(timeline, pieces, LevelCondition::shown,
                 [](LevelCondition each) { return each == LevelCondition::shown; });
    const std::vector<Stretch> coming = on_their_way(timeline, pieces);
    all.insert(all.end(), coming.begin(), coming.end());
    return all;
}

/// When each veil was up, one after the other.
struct Veiled {
    plan::VeilId veil;
    Micros from;
    Micros to;
};
std::vector<Veiled> veils_of(const walk::Record& record) {
    std::vector<Veiled> veils;
    std::map<std::uint32_t, Micros> up;
    for (const walk::Event& event : record.events) {
        if (event.kind == walk::EventKind::veil_up) up.try_emplace(event.subject, event.at);
        if (event.kind != walk::EventKind::veil_down || !up.contains(event.subject)) continue;
        veils.push_back({plan::VeilId{event.subject}, up.at(event.subject), event.at});
        up.erase(event.subject);
    }
    for (const auto& [veil, since] : up) veils.push_back({plan::VeilId{veil}, since, record.end});
    return veils;
}

class Drawing {
public:
    Drawing(const plan::Plan& plan, const walk::Record& record, const TimeFrame& frame, double top,
            Sheet& sheet)
        : plan_(plan), record_(record), frame_(frame), top_(top), sheet_(sheet) {}

    void veils(double bottom) {
        for (const Veiled& veiled : veils_of(record_)) {
            const Extent band{{frame_.x(veiled.from), top_}, {frame_.x(veiled.to), bottom}};
            sheet_.rect(band, palette::veiled);
            sheet_.hot(band, fmt::format("veil {}: {:.2f} to {:.2f} s ({})",
                                         plan_.veils[veiled.veil].name,
                                         plan::in_seconds(veiled.from), plan::in_seconds(veiled.to),
                                         tables::short_time(veiled.to - veiled.from)));
        }
    }

    void row(const LoadRows::Row& row, std::size_t number) {
        const double middle = top_ + (static_cast<double>(number) + 0.5) * load_row_height;
        sheet_.text({{frame_.left - 8, middle}, row.name, Align::right, normal_text, palette::ink});
        const bool alone = row.alone();
        for (const Stretch& stretch : row.stretches) {
            const Extent bar = bar_at(middle, stretch.from, stretch.to);
            const bool some_shown = !alone && stretch.condition == LevelCondition::shown;
            sheet_.rect(bar, alone        ? colour_of(stretch.condition)
                             : some_shown ? palette::shown_less
                                          : palette::others);
            const std::string_view word = alone        ? word_of(stretch.condition)
                                          : some_shown ? std::string_view("some shown")
                                                       : std::string_view("some on their way");
            sheet_.hot(bar,
                       fmt::format("{}: {}\n{:.2f} to {:.2f} s ({})", row.name, word,
                                   plan::in_seconds(stretch.from), plan::in_seconds(stretch.to),
                                   tables::short_time(stretch.to - stretch.from)));
        }
        const auto is_level = [&](PieceId piece) { return piece.value < plan_.levels.size(); };
        if (alone && is_level(row.pieces.front()))
            needs(plan::LevelId{row.pieces.front().value}, middle);
        if (alone || row.grid) {
            for (const PieceId piece : row.pieces) {
                if (is_level(piece)) gaps(plan::LevelId{piece.value}, middle);
            }
        }
    }

private:
    [[nodiscard]] Extent bar_at(double middle, Micros from, Micros to) const {
        // What is too short to see is a line.
        const double x = frame_.x(from);
        return {{x, middle - load_bar_height / 2},
                {std::max(frame_.x(to), x + 0.7), middle + load_bar_height / 2}};
    }

    void needs(plan::LevelId level, double middle) {
        double free_from = 0;
        for (const walk::Needed& needed : record_.needed) {
            const double x = frame_.x(needed.from);
            if (needed.level != level || x < free_from) continue;
            free_from = x + 4;
            sheet_.diamond({x, middle}, load_bar_height / 2 - 1, palette::ink);
            sheet_.hot(
                {{x - 4, middle - load_bar_height / 2}, {x + 4, middle + load_bar_height / 2}},
                fmt::format("{} is needed at {:.2f} s", plan_.levels[level].name,
                            plan::in_seconds(needed.from)));
        }
    }

    void gaps(plan::LevelId level, double middle) {
        for (const walk::Gap& gap : record_.gaps) {
            if (gap.level != level) continue;
            Extent bar = bar_at(middle, gap.from, gap.to);
            bar.from.y -= 2; // over everything, and as wide as a mark
            bar.to.y += 2;
            bar.to.x = std::max(bar.to.x, bar.from.x + 4);
            sheet_.rect(bar, palette::gap);
            sheet_.hot(bar, fmt::format("{}: gap\n{:.2f} to {:.2f} s ({})",
                                        plan::place_name(plan_, level), plan::in_seconds(gap.from),
                                        plan::in_seconds(gap.to),
                                        tables::short_time(gap.to - gap.from)));
        }
    }

    const plan::Plan& plan_;
    const walk::Record& record_;
    const TimeFrame& frame_;
    double top_;
    Sheet& sheet_;
};

std::string loads_description(const plan::Plan& plan, const walk::Record& record) {
    std::string text = tables::counted(record.loads.size(), "load") + ".";
    if (record.gaps.empty()) text += " No gaps.";
    for (const walk::Gap& gap : record.gaps) {
        text += fmt::format(" A gap of {1} in {0} from {2} on.", plan::place_name(plan, gap.level),
                            tables::short_time(gap.to - gap.from), tables::short_time(gap.from));
    }
    return text;
}

} // namespace

std::string_view colour_of(LevelCondition condition) {
    static constexpr std::array<std::string_view, 9> colours{
        palette::paper, palette::waiting,   palette::reading, palette::unpacking, palette::making,
        palette::ready, palette::attaching, palette::shown,   palette::leaving};
    return colours.at(static_cast<std::size_t>(condition));
}

std::string_view word_of(LevelCondition condition) {
    static constexpr std::array<std::string_view, 9> words{"absent",    "waiting", "reading",
                                                           "unpacking", "making",  "ready",
                                                           "attaching", "shown",   "leaving"};
    return words.at(static_cast<std::size_t>(condition));
}

std::vector<std::string> LoadRows::names() const {
    std::vector<std::string> names;
    for (const Row& row : rows) names.push_back(row.name);
    return names;
}

LoadRows load_rows(const plan::Plan& plan, const walk::Record& record) {
    const walk::Timeline timeline = walk::timeline_of(plan, record);
    std::vector<Ranked> pieces = ranked_pieces(plan, record, timeline);
    std::vector<PieceId> others;
    if (pieces.size() > most_load_rows) {
        std::stable_sort(pieces.begin(), pieces.end(), [](const Ranked& one, const Ranked& other) {
            return std::pair(other.has_gap, other.taken) < std::pair(one.has_gap, one.taken);
        });
        for (std::size_t i = most_load_rows - 1; i < pieces.size(); ++i)
            others.insert(others.end(), pieces[i].pieces.begin(), pieces[i].pieces.end());
        pieces.resize(most_load_rows - 1);
    }
    std::stable_sort(pieces.begin(), pieces.end(), [](const Ranked& one, const Ranked& other) {
        return one.since < other.since;
    });
    LoadRows rows;
    for (const Ranked& each : pieces) {
        if (each.grid) {
            rows.rows.push_back({plan::cells_text(plan, each.grid, each.pieces.size()), each.pieces,
                                 of_cells(timeline, each.pieces), each.grid});
        } else {
            const PieceId piece = each.pieces.front();
            rows.rows.push_back({tables::piece_name(plan, piece), {piece}, timeline[piece]});
        }
    }
    if (!others.empty())
        rows.rows.push_back(
            {fmt::format("{} others", others.size()), others, on_their_way(timeline, others)});
    return rows;
}

std::vector<Swatch> loads_legend(const walk::Record& record, const LoadRows& rows) {
    std::set<LevelCondition> present;
    bool needed = false;
    for (const LoadRows::Row& row : rows.rows) {
        if (!row.alone()) continue;
        for (const Stretch& stretch : row.stretches) present.insert(stretch.condition);
        needed = needed || std::any_of(record.needed.begin(), record.needed.end(),
                                       [&](const walk::Needed& each) {
                                           return each.level.value == row.pieces.front().value;
                                       });
    }
    std::vector<Swatch> legend;
    for (const LevelCondition condition :
         {LevelCondition::queued, LevelCondition::reading, LevelCondition::unpacking,
          LevelCondition::making, LevelCondition::ready, LevelCondition::attaching,
          LevelCondition::shown, LevelCondition::leaving}) {
        if (present.contains(condition))
            legend.push_back({std::string(word_of(condition)), colour_of(condition)});
    }
    if (needed) legend.push_back({"needed from here", palette::ink, Swatch::Kind::diamond});
    if (!record.gaps.empty()) legend.push_back({"gap", palette::gap});
    if (!veils_of(record).empty()) legend.push_back({"a veil is up", palette::veiled});
    if (std::any_of(rows.rows.begin(), rows.rows.end(),
                    [](const LoadRows::Row& row) { return static_cast<bool>(row.grid); }))
        legend.push_back({"some cells shown", palette::shown_less});
    if (std::any_of(rows.rows.begin(), rows.rows.end(),
                    [](const LoadRows::Row& row) { return !row.alone(); }))
        legend.push_back({"some on their way", palette::others});
    return legend;
}

void draw_veils(Sheet& sheet, const plan::Plan& plan, const walk::Record& record,
                const TimeFrame& frame, double top, double bottom) {
    Drawing(plan, record, frame, top, sheet).veils(bottom);
}

void draw_load_rows(Sheet& sheet, const plan::Plan& plan, const walk::Record& record,
                    const LoadRows& rows, const TimeFrame& frame, double top) {
    Drawing drawing(plan, record, frame, top, sheet);
    for (std::size_t i = 0; i < rows.rows.size(); ++i) drawing.row(rows.rows[i], i);
}

Figure loads_figure(const plan::Plan& plan, const walk::Record& record, const LoadRows& rows,
                    const TimeFrame& frame) {
    const std::string title = "Loads – " + where_walked(plan, record);
    const std::vector<Swatch> legend = loads_legend(record, rows);
    const double top = title_height(title, frame.width) + 4;
    const double bottom = top + std::max(load_row_height * static_cast<double>(rows.rows.size()),
                                         legend_row * static_cast<double>(legend.size()));
    Figure figure{Sheet(frame.width, bottom + time_axis_height), title,
                  loads_description(plan, record)};
    draw_title(figure.sheet, title);
    draw_veils(figure.sheet, plan, record, frame, top, bottom);
    draw_time_axis(figure.sheet, frame, top, bottom);
    draw_load_rows(figure.sheet, plan, record, rows, frame, top);
    draw_legend(figure.sheet, {frame.right + margin, top}, legend);
    return figure;
}

} // namespace hestrel::figure
