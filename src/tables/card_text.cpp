// Cards as text, JSON and CSV.

#include "plan/names.hpp"
#include "plan/texts.hpp"
#include "tables/cards.hpp"
#include "tables/csv.hpp"
#include "tables/text_table.hpp"
#include "tables/words.hpp"

#include <fmt/format.h>

namespace hestrel::tables {

using plan::Micros;
using source::Json;

namespace {

Json place_json(const plan::Plan& plan, plan::Place place) {
    return {{"file", plan.files[place.file]}, {"line", place.line}, {"column", place.column}};
}

/// Lines of at most 100 columns, the first behind a word.
std::string labelled(std::string_view label, const std::string& text) {
    constexpr std::size_t indent = 16;
    constexpr std::size_t most = text_columns;
    std::string lines;
    for (const std::string& line : broken(text, most - indent)) {
        lines += fmt::format("{:<{}}{}\n", label, indent, line);
        label = "";
    }
    return lines;
}

std::string time_cell(const std::optional<Micros>& time) {
    return time ? short_time(*time) : "-";
}

} // namespace

std::string card_text(const plan::Plan& plan, const Card& card) {
    std::string text =
        fmt::format("{} {}  ({})\n", card.kind, card.name, plan::place_text(plan, card.place));
    for (const CardSection& section : card.sections) {
        std::string_view label = section.label;
        for (const CardLine& line : section.lines) {
            text += labelled(
                label, line.text + (line.place ? " (" + plan::place_text(plan, *line.place) + ")"
                                               : std::string()));
            label = "";
        }
    }
    if (card.figures.empty()) return text;
    using Align = TextTable::Align;
    const bool level = card.figures.front().shown.has_value();
    const bool made = std::any_of(card.figures.begin(), card.figures.end(),
                                  [](const CardFigures& each) { return each.made.has_value(); });
    const bool costs = std::any_of(card.figures.begin(), card.figures.end(),
                                   [](const CardFigures& each) { return each.frame.count > 0; });
    std::vector<TextTable::Column> columns{
        {"device"}, {"own MiB", Align::right}, {"packed", Align::right}};
    if (level) {
        for (const char* name : {"kits", "in all", "read after", "unpacked"})
            columns.push_back({name, Align::right});
        if (made) columns.push_back({"made", Align::right});
        columns.push_back({"shown", Align::right});
        if (costs) columns.push_back({"each frame", Align::right});
    }
    TextTable table(std::move(columns));
    for (const CardFigures& each : card.figures) {
        std::vector<std::string> row{plan.devices[each.device].name, short_mebibytes(each.own),
                                     short_mebibytes(each.packed)};
        if (level) {
            for (const std::string& cell : {short_mebibytes(each.kits), short_mebibytes(each.all),
                                            time_cell(each.read), time_cell(each.unpacked)})
                row.push_back(cell);
            if (made) row.push_back(time_cell(each.made));
            row.push_back(time_cell(each.shown));
            if (costs) row.push_back(plan::frame_time(each.frame));
        }
        table.row(std::move(row));
    }
    return text + "\n" + table.text();
}

Json card_json(const plan::Plan& plan, const Card& card) {
    Json json{{"kind", card.kind}, {"name", card.name}};
    json.update(place_json(plan, card.place));
    for (const CardSection& section : card.sections) {
        Json lines = Json::array();
        for (const CardLine& line : section.lines) {
            Json each{{"text", line.text}};
            if (line.place) each.update(place_json(plan, *line.place));
            lines.push_back(std::move(each));
        }
        json["sections"][section.label] = std::move(lines);
    }
    const auto mib = [](plan::Bytes size) { return plan::in_mebibytes(size); };
    const auto seconds = [](const std::optional<Micros>& time) {
        return time ? Json(plan::in_seconds(*time)) : Json();
    };
    for (const CardFigures& each : card.figures) {
        json["figures"].push_back({{"device", plan.devices[each.device].name},
                                   {"own_mib", mib(each.own)},
                                   {"kits_mib", mib(each.kits)},
                                   {"all_mib", mib(each.all)},
                                   {"packed_mib", mib(each.packed)},
                                   {"read_s", seconds(each.read)},
                                   {"unpacked_s", seconds(each.unpacked)},
                                   {"made_s", seconds(each.made)},
                                   {"shown_s", seconds(each.shown)},
                                   {"frame_s", plan::in_seconds(each.frame)}});
    }
    return json;
}

std::string cards_csv(const plan::Plan& plan, const std::vector<Card>& cards) {
    Csv csv{"kind", "name", "what", "text", "file", "line", "column"};
    const auto row = [&](const Card& card, const std::string& what, const std::string& text,
                         const std::optional<plan::Place>& place) {
        csv.add(card.kind).add(card.name).add(what).add(text);
        if (place) {
            csv.add(plan.files[place->file]).add(std::int64_t{place->line});
            csv.add(std::int64_t{place->column});
        } else {
            csv.add("").add("").add("");
        }
        csv.end_row();
    };
    for (const Card& card : cards) {
        row(card, "defined", "", card.place);
        for (const CardSection& section : card.sections) {
            for (const CardLine& line : section.lines)
                row(card, section.label, line.text, line.place);
        }
    }
    return csv.take();
}

} // namespace hestrel::tables
