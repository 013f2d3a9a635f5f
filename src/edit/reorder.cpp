#include "edit/reorder.hpp"

#include "edit/name_places.hpp"
#include "plan/names.hpp"
#include "source/plan_reader.hpp"
#include "source/source_text.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <map>

namespace hestrel::edit {

using plan::LevelId;

namespace {

/// Each name's line where all stand in lines of their own, with their comments; else nothing.
std::vector<Span> lines_of(const source::SourceText& lines, std::string_view text,
                           const std::vector<plan::Place>& places, const std::vector<Span>& names) {
    std::vector<Span> spans;
    for (std::size_t i = 0; i < names.size(); ++i) {
        const auto span = item_line(lines, text, places[i].line, names[i]);
        if (!span) return {};
        spans.push_back(*span);
    }
    return spans;
}

/// What is to be replaced in a file so that a list has another order.
std::vector<Replacement> replacements(const plan::Plan& plan, const plan::Edition& edition,
                                      const std::vector<LevelId>& order, std::string_view text) {
    const source::SourceText lines(text);
    std::vector<Span> names;
    for (std::size_t i = 0; i < edition.levels.size(); ++i) {
        const std::string& name = plan.levels[edition.levels[i]].name;
        const auto span = name_at(lines, text, edition.level_places[i], name);
        if (!span)
            throw ReorderError(fmt::format("{} is not written there in a way that can be changed",
                                           plan::place_text(plan, edition.level_places[i])));
        names.push_back(*span);
    }
    const std::vector<Span> whole = lines_of(lines, text, edition.level_places, names);
    const std::vector<Span>& spans = whole.empty() ? names : whole;
    std::vector<Replacement> all;
    std::vector<bool> used(order.size());
    for (std::size_t i = 0; i < order.size(); ++i) {
        for (std::size_t from = 0; from < used.size(); ++from) {
            if (used[from] || edition.levels[from] != order[i]) continue;
            used[from] = true;
            if (from != i)
                all.push_back(
                    {spans[i], std::string(text.substr(spans[from].from,
                                                       spans[from].to - spans[from].from))});
            break;
        }
    }
    return all;
}

/// Every edition's list is where no other's is.
void require_own_list(const plan::Plan& plan, plan::EditionId edition) {
    for (const plan::EditionId other : plan.editions.ids()) {
        if (other == edition || plan.editions[other].level_places.empty()) continue;
        if (plan.editions[other].level_places == plan.editions[edition].level_places)
            throw ReorderError(
                fmt::format("editions {} and {} share one list of levels ({}): give each its own",
                            plan.editions[edition].name, plan.editions[other].name,
                            plan::place_text(plan, plan.editions[edition].level_places.front())));
    }
}

} // namespace

std::vector<std::pair<std::string, std::string>> reorder(source::Disk& disk,
                                                         const std::string& path,
                                                         const plan::Plan& plan,
                                                         const std::vector<NewOrder>& orders) {
    std::map<std::uint32_t, std::vector<Replacement>> by_file;
    std::map<std::uint32_t, std::string> texts;
    for (const NewOrder& order : orders) {
        const plan::Edition& edition = plan.editions[order.edition];
        if (order.levels == edition.levels) continue;
        require_own_list(plan, order.edition);
        const std::uint32_t file = edition.level_places.front().file;
        for (const plan::Place& place : edition.level_places) {
            if (place.file != file || plan.files[file].starts_with("--set "))
                throw ReorderError("the list of edition " + edition.name + " is not in one file");
        }
        const auto [text, fresh] = texts.try_emplace(file);
        if (fresh) text->second = disk.read(plan.files[file]);
        for (Replacement& each : replacements(plan, edition, order.levels, text->second))
            by_file[file].push_back(std::move(each));
    }
    std::vector<std::pair<std::string, std::string>> changed;
    for (auto& [file, all] : by_file) {
        sort_once(all);
        changed.emplace_back(plan.files[file], replaced(texts.at(file), all));
    }
    source::ChangedDisk then(disk, changed);
    const source::PlanReading reading = source::read_plan(then, path);
    bool as_meant = !reading.has_errors() && reading.plan.editions.size() == plan.editions.size();
    for (const plan::EditionId edition : plan.editions.ids()) {
        if (!as_meant) break;
        const auto order = std::find_if(orders.begin(), orders.end(), [&](const NewOrder& each) {
            return each.edition == edition;
        });
        as_meant = reading.plan.editions[edition].levels ==
                   (order == orders.end() ? plan.editions[edition].levels : order->levels);
    }
    if (!as_meant) throw ReorderError("the plan would not say what was meant; nothing was written");
    return changed;
}

} // namespace hestrel::edit
