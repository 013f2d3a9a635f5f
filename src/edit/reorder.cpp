#include "edit/reorder.hpp"

#include "edit/name_places.hpp"
#include "plan/lists.hpp"
#include "plan/names.hpp"
#include "source/plan_reader.hpp"
#include "source/source_text.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <map>

namespace hestrel::edit {

using plan::LevelId;

namespace {

/// An element of a list of levels: a level, or a group of them.
struct Listed {
    std::string name;
    plan::Place place;
    std::vector<LevelId> levels;
};

/// The group that has these levels and stands at a place; else the one level there.
std::string name_of(const plan::Plan& plan, const std::vector<LevelId>& levels) {
    const auto group = std::find_if(plan.groups.begin(), plan.groups.end(),
                                    [&](const plan::Group& each) { return each.levels == levels; });
    return levels.size() > 1 && group != plan.groups.end() ? group->name
                                                           : plan.levels[levels.front()].name;
}

/// What an edition lists, as it is written.
std::vector<Listed> listed_in(const plan::Plan& plan, const plan::Edition& edition) {
    std::vector<Listed> all;
    for (std::size_t i = 0; i < edition.levels.size(); ++i) {
        if (i == 0 || edition.level_places[i] != edition.level_places[i - 1])
            all.push_back({{}, edition.level_places[i], {}});
        all.back().levels.push_back(edition.levels[i]);
    }
    for (Listed& each : all) each.name = name_of(plan, each.levels);
    return all;
}

/// An element in a new order: as it was listed, or one level of a group that does not stay
/// together.
struct Moved {
    std::size_t from = 0; ///< which of the elements listed before
    LevelId alone;        ///< unset: all of it
};

std::vector<Moved> new_order(const std::vector<Listed>& listed, const std::vector<LevelId>& order) {
    std::vector<Moved> all;
    std::vector<bool> used(listed.size());
    for (std::size_t at = 0; at < order.size();) {
        const auto stands_at = [&](const Listed& each) {
            return each.levels.size() <= order.size() - at &&
                   std::equal(each.levels.begin(), each.levels.end(),
                              order.begin() + static_cast<std::ptrdiff_t>(at));
        };
        std::size_t next = 0;
        while (next < listed.size() && (used[next] || !stands_at(listed[next]))) ++next;
        if (next < listed.size()) {
            used[next] = true;
            all.push_back({next, {}});
            at += listed[next].levels.size();
            continue;
        }
        next = 0;
        while (!plan::contains(listed[next].levels, order[at])) ++next;
        all.push_back({next, order[at++]});
    }
    return all;
}

/// Each name's line where all stand in lines of their own, with their comments; else nothing.
std::vector<Span> lines_of(const source::SourceText& lines, std::string_view text,
                           const std::vector<Listed>& listed, const std::vector<Span>& names) {
    std::vector<Span> spans;
    for (std::size_t i = 0; i < names.size(); ++i) {
        const auto span = item_line(lines, text, listed[i].place.line, names[i]);
        if (!span) return {};
        spans.push_back(*span);
    }
    return spans;
}

/// What is to be replaced in a file so that a list has another order.
std::vector<Replacement> replacements(const plan::Plan& plan, const plan::Edition& edition,
                                      const std::vector<LevelId>& order, std::string_view text) {
    const source::SourceText lines(text);
    const std::vector<Listed> listed = listed_in(plan, edition);
    std::vector<Span> names;
    for (const Listed& each : listed) {
        const auto span = name_at(lines, text, each.place, each.name);
        if (!span)
            throw ReorderError(fmt::format("{} is not written there in a way that can be changed",
                                           plan::place_text(plan, each.place)));
        names.push_back(*span);
    }
    const std::vector<Span> whole = lines_of(lines, text, listed, names);
    const std::vector<Span>& spans = whole.empty() ? names : whole;
    const std::vector<Moved> moved = new_order(listed, order);
    const auto text_of = [&](const Moved& each) {
        const Span& span = spans[each.from];
        std::string written(text.substr(span.from, span.to - span.from));
        if (each.alone)
            written.replace(names[each.from].from - span.from,
                            names[each.from].to - names[each.from].from,
                            plan.levels[each.alone].name);
        return written;
    };
    // Levels of a group that does not stay together are more than were listed: they take the place
    // of the group, where all that follow move on.
    const auto apart = std::find_if(moved.begin(), moved.end(), [](const Moved& each) {
        return static_cast<bool>(each.alone);
    });
    std::vector<Replacement> all;
    std::size_t next = 0;
    for (std::size_t i = 0; i < spans.size(); ++i) {
        std::size_t count = 1;
        if (apart != moved.end() && apart->from == i) count += moved.size() - listed.size();
        std::string here;
        const bool stays = count == 1 && moved[next].from == i && !moved[next].alone;
        std::string between = ", ";
        if (!whole.empty()) { // a line each, with its dash
            const std::size_t line = text.rfind('\n', spans[i].from) + 1;
            between = "\n" + std::string(text.substr(line, spans[i].from - line));
        }
        for (; count > 0; --count)
            here.append(here.empty() ? "" : between).append(text_of(moved[next++]));
        if (!stays) all.push_back({spans[i], here});
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
