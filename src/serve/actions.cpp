#include "serve/actions.hpp"

#include "advise/advice.hpp"
#include "edit/applied.hpp"
#include "edit/settings.hpp"
#include "plan/finding_kinds.hpp"
#include "plan/names.hpp"
#include "serve/cursor.hpp"
#include "source/did_you_mean.hpp"
#include "source/expected.hpp"
#include "source/name_use.hpp"
#include "source/plan_files.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::serve {

namespace {

std::optional<std::size_t> offset_in(const PlanRead& read, const plan::Finding& finding) {
    if (finding.place.file >= read.files.size()) return std::nullopt;
    return read.files[finding.place.file]->offset_of(finding.place);
}

/// The innermost thing around a path that can have a key; its path, empty where there is none.
std::vector<std::string> owner_of_key(std::vector<std::string> path, std::string_view key) {
    for (; !path.empty(); path.pop_back()) {
        const auto expected = source::expected_at(path);
        if (!expected || expected->object() == nullptr) continue;
        const auto& keys = expected->object()->keys;
        if (std::any_of(keys.begin(), keys.end(),
                        [&](const source::Key& each) { return each.name == key; }))
            return path;
    }
    return path;
}

/// Whether something stands at a path below a value.
bool has_value(source::Value value, const std::vector<std::string>& path) {
    for (const std::string& part : path) value = source::child_of(value, part);
    return static_cast<bool>(value) && !value.is_null();
}

} // namespace

std::optional<Action> meant_name(const PlanRead& read, const plan::Finding& finding) {
    const auto slip = source::slip_in(finding.message);
    const auto from = offset_in(read, finding);
    if (!slip || !from) return std::nullopt;
    const PlanFile& file = *read.files[finding.place.file];
    const std::string& text = file.document.text();
    // It stands in the value that begins at the place of the finding.
    constexpr std::size_t most_before = 2000;
    const std::size_t at = source::find_word(text, slip->wrong, 0, *from);
    if (at == std::string::npos || at - *from > most_before) return std::nullopt;
    return Action{fmt::format("Write {}", slip->right),
                  {{file.path, {at, at + slip->wrong.size()}, std::string(slip->right)}},
                  true};
}

std::vector<Remedy> remedies(const plan::Finding& finding) {
    std::vector<Remedy> all;
    if (finding.name == "trigger-too-late") all.push_back(Remedy::reach_farther);
    const plan::FindingKind* kind = plan::find_kind(finding.name);
    if (kind != nullptr && plan::includes(kind->by, plan::FoundBy::check) &&
        !plan::includes(kind->by, plan::FoundBy::reader))
        all.push_back(Remedy::allow);
    return all;
}

std::string title_of(Remedy remedy, const plan::Finding& finding) {
    switch (remedy) {
    case Remedy::reach_farther: return "Let it reach as far as it must (walks the plan)";
    case Remedy::allow: break;
    }
    return fmt::format("Allow {} here, with a reason", finding.name);
}

std::optional<Action> allowed_there(const PlanRead& read, const plan::Finding& finding) {
    const auto at = offset_in(read, finding);
    if (!at) return std::nullopt;
    const PlanFile& file = *read.files[finding.place.file];
    if (!file.tree) return std::nullopt;
    const auto covered = covered_at(*file.tree, file.lines, *at);
    if (!covered) return std::nullopt;
    std::vector<std::string> path = owner_of_key(covered->path, "allow");
    path.emplace_back("allow");
    std::string value = "\"why this is meant to be so\"";
    if (has_value(file.tree->root(), path)) {
        path.push_back(finding.name);
    } else {
        value = fmt::format("{{{}: {}}}", finding.name, value);
    }
    try {
        auto [span, by] = edit::change_for(file.document.text(), file.lines, *file.tree,
                                           {std::move(path), std::move(value)});
        return Action{title_of(Remedy::allow, finding),
                      {{file.path, {span.from, span.to}, std::move(by)}}};
    } catch (const edit::ApplyError&) {
        return std::nullopt;
    }
}

std::optional<Action> farther_shape(source::Disk& disk, const std::string& main,
                                    const PlanRead& read, const plan::Finding& finding) {
    const plan::Plan& plan = read.plan;
    plan::TriggerId trigger;
    for (const plan::TriggerId id : plan.triggers.ids()) {
        if (plan.triggers[id].place == finding.place) trigger = id;
    }
    if (!trigger || plan::any_error(read.errors)) return std::nullopt;
    const auto devices = plan::named_in(plan.devices, {});
    const auto advice = advise::reach_of(plan, read.walks(), trigger, devices);
    if (!advice) return std::nullopt;
    try {
        const auto settings = edit::Settings(disk, plan, main, {}).of(advice->edits);
        if (!settings) return std::nullopt;
        Action action{fmt::format("Let it reach {} m farther", advice->amount), {}};
        for (const auto& [path, text] : edit::applied(disk, main, *settings)) {
            const std::string from_root = source::whole(path).string();
            action.changes.push_back(difference(from_root, disk.read(path), text));
        }
        return action;
    } catch (const edit::ApplyError&) {
        return std::nullopt;
    }
}

} // namespace hestrel::serve
