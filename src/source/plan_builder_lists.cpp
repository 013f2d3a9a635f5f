// Named lists, what they take, and levels by a fact. A `do` reads the named list's steps anew, in a
// copy of its tree in which what it takes stands as it is there:
//
//   lists: {travel: {takes: {where: level}, steps: [{switch: {to: $where}}]}}
//   steps: [{do: {travel: {where: quay}}}]     is   steps: [{switch: {to: quay}}]
//
// A step that names levels by a fact is read once for each value, in a list of its own. Both cost
// what writing the steps out would.

#include "plan/names.hpp"
#include "source/circles.hpp"
#include "source/plan_builder.hpp"

#include <algorithm>
#include <array>
#include <utility>

namespace hestrel::source {

using plan::ParameterKind;

namespace {

/// Values that all uses together may be read anew to.
constexpr std::size_t most_expanded = 2'000'000;
constexpr std::size_t deepest_uses = 100;

/// A text with each `$name` replaced by what stands for it.
std::string substituted(std::string_view text, const std::vector<std::string>& names,
                        const std::vector<std::string>& by) {
    std::string made;
    for (std::size_t at = 0; at < text.size();) {
        if (text[at] != '$') {
            made += text[at++];
            continue;
        }
        std::size_t end = at + 1;
        while (end < text.size() && is_name("a" + std::string(1, text[end]))) ++end;
        const auto found = std::find(names.begin(), names.end(), text.substr(at + 1, end - at - 1));
        made += found == names.end() ? std::string(text.substr(at, end - at))
                                     : by[static_cast<std::size_t>(found - names.begin())];
        at = end;
    }
    return made;
}

} // namespace

// --- what named lists are ----------------------------------------------------

void PlanBuilder::read_named_lists() {
    list_sources_.resize(plan_.named_lists.size());
    read_all(list_bodies_, &PlanBuilder::read_named_list);
    for (const plan::NamedListId id : plan_.named_lists.ids()) {
        const InsideLevel inside(scope_, plan_.named_lists[id].home);
        check_named_list(id);
    }
    check_list_cycles();
}

void PlanBuilder::read_named_list(const Value& value, plan::NamedListId id) {
    const Fields fields = reading_.fields(value, keys::list);
    allow(fields, ThingKind::list, id.value);
    plan::NamedList& list = plan_.named_lists[id];
    Names<plan::WordId> names("parameter", reading_.keep(list.name));
    reading_.named(fields["takes"], "what it takes",
                   [&](std::string_view name, plan::Place place, const Value& body) {
                       reading_.define(names, name, plan::WordId{list.takes.size()}, place);
                       plan::Parameter parameter{{std::string(name), place}, {}};
                       if (const auto kind = reading_.word(body, plan::parameter_kind_names))
                           parameter.kind = static_cast<ParameterKind>(*kind);
                       list.takes.push_back(std::move(parameter));
                   });
    list_sources_[id].steps = fields["steps"];
}

/// Reads a named list's steps for their own sake: what is wrong with them is told once, whatever
/// they are used for. What they would be is left away.
void PlanBuilder::check_named_list(plan::NamedListId id) {
    ListSource& source = list_sources_[id];
    const std::size_t findings = reading_.findings().size();
    const std::size_t lists = plan_.lists.size();
    const std::size_t conditions = plan_.conditions.size();
    defines_ = id;
    reading_.define_list(&plan_.named_lists[id]);
    read_steps(source.steps, {plan::OwnerKind::trigger, 0, {}, {}, 0, {}});
    reading_.define_list(nullptr);
    defines_ = {};
    plan_.lists.resize(lists);
    plan_.conditions.resize(conditions);
    source.wrong = reading_.findings().size() > findings || !source.steps;
}

/// Lists that do each other in a circle: one finding for each circle, and none of it is done.
void PlanBuilder::check_list_cycles() {
    for_circles<plan::NamedListId>(
        plan_.named_lists.size(),
        [&](plan::NamedListId list, std::size_t n) {
            const auto& does = list_sources_[list].does;
            return n < does.size() ? does[n].first : plan::NamedListId{};
        },
        [&](std::span<const plan::NamedListId> circle, std::size_t by) {
            circle_error(circle, list_sources_[circle.back()].does[by].second);
            for (const plan::NamedListId each : circle) list_sources_[each].wrong = true;
        });
}

void PlanBuilder::circle_error(std::span<const plan::NamedListId> circle, plan::Place place) {
    std::vector<plan::NamedListId> way(circle.begin(), circle.end());
    way.push_back(circle.front());
    reading_.error("cycle", place,
                   fmt::format("lists use each other in a circle: {}, the first at {}",
                               plan::joined(plan::names_in(plan_.named_lists, way), " → "),
                               reading_.text_of(plan_.named_lists[way.front()].place)));
}

// --- do ----------------------------------------------------------------------

void PlanBuilder::read_do(const Value& value, plan::ListId into, std::size_t written) {
    Value name = value;
    Value given;
    if (value.is_mapping()) {
        const auto entries = value.entries();
        if (entries.size() != 1) {
            reading_.wrong_value(value, "one `do` uses one list: {list: {what it takes: value}}");
            return;
        }
        name = entries.front().first;
        given = entries.front().second;
    }
    const bool unknown = reading_.parameter_kind(name.text()).has_value();
    const plan::NamedListId id = reading_.reference(name, named_lists_);
    if (unknown || !id) return;
    std::vector<Argument> arguments;
    if (!bind(id, name.place(), given, arguments)) return;
    if (defines_) {
        list_sources_[defines_].does.emplace_back(id, name.place());
        return;
    }
    expand(id, name.place(), arguments, into, written);
}

/// What a list takes, in the order of `takes`; false, and findings, where that is not what it
/// takes.
bool PlanBuilder::bind(plan::NamedListId id, plan::Place use, const Value& given,
                       std::vector<Argument>& arguments) {
    const plan::NamedList& list = plan_.named_lists[id];
    const std::string defined =
        fmt::format("{} (defined at {})", list.name, reading_.text_of(list.place));
    arguments.resize(list.takes.size());
    std::vector<bool> bound(list.takes.size());
    bool fits = true;
    reading_.named(
        given, "what the list takes",
        [&](std::string_view name, plan::Place place, const Value& argument) {
            const auto found = std::find_if(list.takes.begin(), list.takes.end(),
                                            [&](const auto& each) { return each.name == name; });
            if (found == list.takes.end()) {
                std::vector<std::string_view> known;
                for (const plan::Parameter& each : list.takes) known.push_back(each.name);
                reading_.error("unknown-name", place,
                               fmt::format("list {} takes no \"{}\"{}", defined, name,
                                           reading_.hint(name, known)));
                fits = false;
                return;
            }
            reading_.mention("parameter", list.name, name, {place, name});
            const auto text = argument_text(*found, defined, argument);
            fits = fits && text.has_value();
            const auto at = static_cast<std::size_t>(found - list.takes.begin());
            bound[at] = true;
            arguments[at] = {text.value_or(std::string()), {argument.place(), argument.text()}};
        });
    std::vector<std::string> missing;
    for (std::size_t i = 0; i < bound.size(); ++i) {
        if (bound[i]) continue;
        missing.push_back(fmt::format("`{}` ({})", list.takes[i].name,
                                      plan::with_article(plan::name_of(list.takes[i].kind))));
    }
    if (missing.empty()) return fits;
    reading_.error("missing-key", use,
                   fmt::format("list {} takes {}, which {} not given here", defined,
                               plan::joined(missing, " and "), missing.size() == 1 ? "is" : "are"));
    return false;
}

/// What is given for one thing that a list takes; names in full, so that they mean the same there.
std::optional<std::string> PlanBuilder::argument_text(const plan::Parameter& parameter,
                                                      const std::string& list,
                                                      const Value& argument) {
    const auto wrong = [&](const std::string& why) {
        reading_.error("wrong-value", argument.place(),
                       fmt::format("`{}` of list {} is {}, and {}", parameter.name, list,
                                   plan::with_article(plan::name_of(parameter.kind)), why));
        return std::nullopt;
    };
    const std::string_view text = argument.text();
    const Spot spot{argument.place(), text};
    if (!argument.is_scalar() || argument.is_null())
        return wrong(fmt::format("this is {}", argument.description()));
    if (reading_.parameter(text, spot, {parameter.kind})) return std::string(text);
    const auto name_of = [&](const auto& names, const auto& table) -> std::optional<std::string> {
        const auto found = names.look_up(text);
        reading_.mention_found(names, text, found, spot);
        if (!found)
            return wrong(fmt::format("no {} is called \"{}\"{}", names.kind(), text,
                                     reading_.hint(text, names)));
        return table[found.id].name;
    };
    switch (parameter.kind) {
    case ParameterKind::level: return name_of(levels_, plan_.levels);
    case ParameterKind::waypoint: return name_of(waypoints_, plan_.waypoints);
    case ParameterKind::menu: return name_of(menus_, plan_.menus);
    case ParameterKind::veil: return name_of(veils_, plan_.veils);
    case ParameterKind::fact: return name_of(facts_, plan_.facts);
    case ParameterKind::list: return name_of(named_lists_, plan_.named_lists);
    case ParameterKind::entry:
        if (!is_name(text)) return wrong(fmt::format("{} is no name", argument.description()));
        return std::string(text);
    case ParameterKind::time:
        if (const auto parsed = parse_time(text);
            const auto* why = std::get_if<std::string>(&parsed))
            return wrong(fmt::format("{} {}", argument.description(), *why));
        return std::string(text);
    case ParameterKind::value: break;
    }
    const bool number = std::holds_alternative<double>(parse_number(text));
    if (!number && !is_name(text)) return wrong(fmt::format("{} is none", argument.description()));
    return std::string(text);
}

/// What one use of a list comes to, with the lists that it does; of what it takes, and of cases,
/// nothing is known before they are read.
std::size_t PlanBuilder::values_of(plan::NamedListId id, std::size_t depth) {
    ListSource& source = list_sources_[id];
    if (source.wrong) return 0;
    if (source.values > 0) return source.values;
    source.values = YamlTree(source.steps, 0, [](const Value&) { return std::nullopt; }).size();
    if (depth >= deepest_uses) return source.values;
    for (const auto& [other, place] : source.does)
        source.values = std::min(source.values + values_of(other, depth + 1), most_expanded + 1);
    return source.values;
}

/// Whether so many more values are more than a plan may come to; the first time that is told.
bool PlanBuilder::too_many(std::size_t more, plan::Place place) {
    if (expanded_ + more <= most_expanded) return false;
    if (!std::exchange(told_too_many_, true)) {
        reading_.error("wrong-value", place,
                       fmt::format("named lists are used so often, inside lists that are used "
                                   "often, and levels depend on so many values of facts, that "
                                   "the steps come to more than {} values",
                                   most_expanded));
    }
    return true;
}

/// Reads a list's steps anew, as steps of `into`.
void PlanBuilder::expand(plan::NamedListId id, plan::Place use,
                         const std::vector<Argument>& arguments, plan::ListId into,
                         std::size_t written) {
    const ListSource& source = list_sources_[id];
    if (source.wrong) return; // which is told
    const plan::NamedList& list = plan_.named_lists[id];
    const auto under_way = std::find(doing_.begin(), doing_.end(), id);
    if (under_way != doing_.end()) return circle_error({under_way, doing_.end()}, use);
    if (doing_.size() == deepest_uses) {
        reading_.error("wrong-value", use,
                       fmt::format("named lists use one another more than {} deep", deepest_uses));
        return;
    }
    if (too_many(values_of(id, doing_.size()), use)) return;
    std::vector<std::string> names;
    std::vector<std::string> texts;
    std::vector<GivenName> given;
    for (std::size_t i = 0; i < arguments.size(); ++i) {
        names.push_back(list.takes[i].name);
        texts.push_back(arguments[i].text);
        given.push_back({plan::name_of(list.takes[i].kind), arguments[i].text, arguments[i].spot});
    }
    plan_.list_uses.push_back({use, id});
    const auto number = static_cast<std::uint32_t>(plan_.list_uses.size());
    const YamlTree& tree = *copies_.emplace_back(std::make_unique<YamlTree>(
        source.steps, number, [&](const Value& each) -> std::optional<YamlTree::Rewritten> {
            if (each.text().find('$') == std::string_view::npos) return std::nullopt;
            return YamlTree::Rewritten{substituted(each.text(), names, texts)};
        }));
    expanded_ += tree.size();
    const std::size_t before = plan_.lists[into].steps.size();
    {
        const InsideLevel inside(scope_, list.home);
        const ReadContext::ForUse for_use(reading_, std::move(given));
        doing_.push_back(id);
        read_steps_into(tree.root(), into);
        doing_.pop_back();
    }
    std::vector<plan::Step>& steps = plan_.lists[into].steps;
    for (std::size_t i = before; i < steps.size(); ++i)
        steps[i].written = static_cast<std::uint32_t>(written);
}

// --- levels by a fact --------------------------------------------------------

namespace {

bool is_by_fact(const Value& value) {
    return static_cast<bool>(value.at("by"));
}

/// The first level by a fact among levels; nothing where none is.
Value first_by_fact(const Value& levels) {
    if (is_by_fact(levels)) return levels;
    for (const Value& each : levels.elements()) {
        if (is_by_fact(each)) return each;
    }
    return {};
}

} // namespace

PlanBuilder::ByFact PlanBuilder::find_by_fact(std::string_view name, const Fields& fields) {
    constexpr std::array<std::string_view, 5> of_levels{"load", "show", "hide", "unload",
                                                        "keep-only"};
    ByFact found;
    const auto look = [&](const Value& levels, bool needed) {
        if (found.value) return;
        found.value = first_by_fact(levels);
        // Whether the step has any level left without it.
        found.alone = needed && (found.value == levels || levels.elements().size() == 1);
    };
    const Value value = fields[name];
    if (std::find(of_levels.begin(), of_levels.end(), name) != of_levels.end()) look(value, true);
    const bool switches = name == "switch" || name == "next" || name == "back" || name == "return";
    if (!value.is_mapping() || (!switches && name != "wait")) return found;
    for (const std::string_view key : {"to", "with"}) {
        if (switches) look(value.at(key), key == "to");
    }
    for (const std::string_view key : {"shown", "ready"}) {
        if (!switches) look(value.at(key), true);
    }
    return found;
}

/// A case for each value that is told, each with the step as it is then, and one for all others.
void PlanBuilder::read_by_fact(const Value& step, const ByFact& by, plan::ListId list,
                               std::size_t written) {
    Value name;
    std::vector<std::pair<Value, Value>> told;
    Value otherwise;
    for (const auto& [key, level] : by.value.entries()) {
        if (key.text() == "by")
            name = level;
        else if (key.text() == "else")
            otherwise = level;
        else
            told.emplace_back(key, level);
    }
    const auto check_level = [&](const Value& level) {
        return level.text() == "none" || groups_.find(level.text()) ||
               reading_.reference(level, levels_) ||
               reading_.parameter_kind(level.text()).has_value();
    };
    bool fine = true;
    for (const auto& [key, level] : told) fine = check_level(level) && fine;
    if (otherwise) fine = check_level(otherwise) && fine;
    const bool unknown = reading_.parameter_kind(name.text()).has_value();
    const plan::FactId fact = reading_.reference(name, facts_);
    if (unknown || !fact || !fine) return;

    plan::CaseStep cases;
    cases.by = fact;
    cases.all_told = static_cast<bool>(otherwise);
    const auto add_case = [&](plan::ConditionId when, const Value& level) {
        const plan::ListId sublist = push_sublist(list);
        cases.cases.push_back({when, sublist});
        const bool none = !level || level.text() == "none";
        if (none && by.alone) return;
        const YamlTree& tree = *copies_.emplace_back(std::make_unique<YamlTree>(
            step, 0, [&](const Value& each) -> std::optional<YamlTree::Rewritten> {
                if (each != by.value) return std::nullopt;
                return YamlTree::Rewritten{none ? std::string() : std::string(level.text())};
            }));
        expanded_ += tree.size();
        read_step_without_when(tree.root(), sublist, 0);
    };
    for (const auto& [key, level] : told) {
        plan::Value value;
        if (!read_value_of(fact, key, value)) return;
        cases.told.push_back(value);
        add_case(plan_.conditions.push(equals(fact, value, key)), level);
        if (too_many(0, step.place())) return;
    }
    add_case({}, otherwise);
    plan_.lists[list].steps.push_back(
        {step.place(), static_cast<std::uint32_t>(written), std::move(cases)});
}

/// "village == north".
plan::Condition PlanBuilder::equals(plan::FactId fact, const plan::Value& value,
                                    const Value& written) const {
    plan::Condition condition;
    condition.place = written.place();
    condition.text = fmt::format("{} == {}", plan_.facts[fact].name, written.text());
    const auto term = [&](plan::Operation operation, std::size_t from, std::size_t to) {
        plan::Term made;
        made.operation = operation;
        made.place = condition.place;
        made.text_from = static_cast<std::uint32_t>(from);
        made.text_to = static_cast<std::uint32_t>(to);
        return made;
    };
    const std::size_t size = condition.text.size();
    const std::size_t name = plan_.facts[fact].name.size();
    condition.terms = {term(plan::Operation::fact, 0, name),
                       term(plan::Operation::value, size - written.text().size(), size),
                       term(plan::Operation::equal, 0, size)};
    condition.terms[0].fact = fact;
    condition.terms[0].of_each = plan_.facts[fact].of_each;
    condition.terms[1].value = value;
    condition.terms[2].left = 0;
    condition.terms[2].right = 1;
    return condition;
}

} // namespace hestrel::source
