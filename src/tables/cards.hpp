#pragma once
// Cards: all there is to know about one thing of a plan, and lists of things.

#include "plan/plan.hpp"
#include "source/json.hpp"
#include "study/study.hpp"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::tables {

/// One line of a card, and where the plan says so.
struct CardLine {
    std::string text;
    std::optional<plan::Place> place;
};

/// What a card says under one word.
struct CardSection {
    std::string label; ///< "loaded by"
    std::vector<CardLine> lines;
};

/// What a level or kit costs on a device; times are from the asking, where nothing else loads.
struct CardFigures {
    plan::DeviceId device;
    plan::Bytes own, kits, all; ///< MiB in use; `all` with its ancestors
    plan::Bytes packed;         ///< of its own
    std::optional<plan::Micros> read, unpacked, made, shown; ///< of a level; unset: it is not
    plan::Micros frame; ///< what a level costs in every frame while it is shown
};

/// One thing.
struct Card {
    std::string kind; ///< "level"
    std::string name;
    plan::Place place;
    std::vector<CardSection> sections; ///< those that have lines
    std::vector<CardFigures> figures;  ///< by device
};

/// Every thing that is called so: "quay", "front-desk.begin". Empty where none is.
std::vector<Card> cards_of(const study::Study& study, std::string_view name);
/// All names that there are cards of, each once.
std::vector<std::string> card_names(const plan::Plan& plan);

/// As people read it, in lines of at most 100 columns.
std::string card_text(const plan::Plan& plan, const Card& card);
source::Json card_json(const plan::Plan& plan, const Card& card);
/// A row for each line: kind, name, what, text, file, line, column.
std::string cards_csv(const plan::Plan& plan, const std::vector<Card>& cards);

} // namespace hestrel::tables
