#include "source/read_context.hpp"

#include "plan/names.hpp"

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace hestrel::source {

namespace {

std::size_t find_key(const ObjectKeys& keys, std::string_view name) {
    const auto found = std::find_if(keys.keys.begin(), keys.keys.end(),
                                    [&](const Key& key) { return key.name == name; });
    return static_cast<std::size_t>(found - keys.keys.begin());
}

} // namespace

bool is_name(std::string_view text) {
    const auto letter = [](char c) {
        return (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9');
    };
    return !text.empty() && letter(text.front()) &&
           std::all_of(text.begin(), text.end(),
                       [&](char c) { return letter(c) || c == '_' || c == '-'; });
}

bool is_reference(std::string_view text) {
    const std::size_t dot = text.rfind('.');
    return is_name(text.substr(dot + 1)) && // npos + 1 is 0
           (dot == std::string_view::npos || is_name(text.substr(0, dot)));
}

Value Fields::operator[](std::string_view key) const {
    for (const There& each : values_) {
        if (each.key == key) return each.value;
    }
#ifndef NDEBUG
    if (find_key(*keys_, key) == keys_->keys.size())
        throw std::logic_error(fmt::format("{} has no key {}", keys_->name, key));
#endif
    return {};
}

Fields ReadContext::fields(const Value& value, const ObjectKeys& keys) {
    Fields fields;
    fields.keys_ = &keys;
    fields.place_ = value.place();
    if (!value) return fields;
    if (!value.is_mapping()) {
        wrong_value(value, fmt::format("expected {} (a mapping), found {}", keys.name,
                                       value.description()));
        return fields;
    }
    value.for_entries([&](const Value& key, const Value& entry) {
        const std::size_t index = find_key(keys, key.text());
        if (index == keys.keys.size()) {
            std::vector<std::string_view> known;
            for (const Key& each : keys.keys) known.push_back(each.name);
            error("unknown-key", key.place(),
                  fmt::format("{} has no key {}{}", keys.name, key.description(),
                              hint(key.text(), known)));
        } else if (fields.has(key.text())) {
            defined_twice(key.text(), key.place(), fields[key.text()].place());
        } else {
            fields.values_.push_back({keys.keys[index].name, entry});
        }
    });
    for (const Key& key : keys.keys) {
        if (!key.required || fields.has(key.name)) continue;
        error("missing-key", value.place(),
              fmt::format("{} needs the key \"{}\"", keys.name, key.name));
    }
    return fields;
}

void ReadContext::entries_of(const Value& value, std::string_view what,
                             bool (*fits)(std::string_view), const EachNamed& each) {
    if (!value || value.is_null()) return;
    if (!value.is_mapping()) {
        wrong_value(value, fmt::format("expected {} by name, found {}", what, value.description()));
        return;
    }
    value.for_entries([&](const Value& key, const Value& entry) {
        if (!key.is_scalar() || !fits(key.text())) {
            wrong_value(
                key,
                fmt::format("{} is no name: letters, digits, - and _, starting with a letter or "
                            "digit",
                            key.description()));
            return;
        }
        each(key.text(), key.place(), entry);
    });
}

void ReadContext::named(const Value& value, std::string_view what, const EachNamed& each) {
    entries_of(value, what, &is_name, each);
}

void ReadContext::by_reference(const Value& value, std::string_view what, const EachNamed& each) {
    const auto or_parameter = [](std::string_view text) {
        return is_reference(text.starts_with('$') ? text.substr(1) : text);
    };
    entries_of(value, what, defines_ == nullptr ? &is_reference : +or_parameter, each);
}

std::vector<Value> ReadContext::list(const Value& value, std::string_view what) {
    if (value && !value.is_sequence()) {
        wrong_value(value, fmt::format("expected {}, found {}", what, value.description()));
    }
    return value.elements();
}

void ReadContext::text(const Value& value, std::string& into) {
    if (!value) return;
    if (!value.is_scalar() || value.is_null()) {
        wrong_value(value, fmt::format("expected text, found {}", value.description()));
        return;
    }
    into = value.text();
}

void ReadContext::flag(const Value& value, bool& into) {
    if (!value) return;
    const bool yes = value.is_scalar() && value.is_plain() && value.text() == "true";
    const bool no = value.is_scalar() && value.is_plain() && value.text() == "false";
    if (yes || no) {
        into = yes;
    } else {
        wrong_value(value, fmt::format("expected true or false, found {}", value.description()));
    }
}

/// Numbers without a unit are numbers of YAML: a quoted one is a text.
bool ReadContext::plain_number(const Value& value, std::string_view what, double& into) {
    if (value && value.is_scalar() && !value.is_plain()) {
        wrong_value(value,
                    fmt::format("expected {}, found the text {}", what, value.description()));
        return false;
    }
    return quantity(value, &parse_number, what, into);
}

void ReadContext::count(const Value& value, std::int64_t least, std::int64_t most,
                        std::int64_t& into) {
    double number = 0;
    if (!plain_number(value, "a whole number", number)) return;
    if (number != std::floor(number)) {
        wrong_value(value, fmt::format("{} is not a whole number", value.description()));
    } else if (number < static_cast<double>(least) || number > static_cast<double>(most)) {
        wrong_value(value,
                    fmt::format("{} must be from {} to {}", value.description(), least, most));
    } else {
        into = static_cast<std::int64_t>(number);
    }
}

void ReadContext::count(const Value& value, std::uint32_t most, std::uint32_t& into) {
    std::int64_t number = into;
    count(value, 1, most, number);
    into = static_cast<std::uint32_t>(number);
}

void ReadContext::number(const Value& value, double& into) {
    plain_number(value, "a number", into);
}

void ReadContext::time(const Value& value, plan::Micros& into) {
    if (parameter(value.text(), {value.place(), value.text()}, {plan::ParameterKind::time})) return;
    quantity(value, &parse_time, "a time such as 2 s", into);
}

void ReadContext::point(const Value& value, plan::Vec3& into) {
    if (!value) return;
    const std::vector<Value> coordinates = value.elements();
    if (coordinates.size() != 3) {
        wrong_value(value, fmt::format("expected a point [x, y, z], found {}",
                                       value.is_sequence()
                                           ? fmt::format("a list of {}", coordinates.size())
                                           : value.description()));
        return;
    }
    for (std::size_t axis = 0; axis < 3; ++axis) {
        quantity(coordinates[axis], &parse_distance, "a coordinate in m", into[axis]);
    }
}

std::optional<std::size_t> ReadContext::word(const Value& value,
                                             std::span<const std::string_view> words) {
    if (!value) return std::nullopt;
    const auto found = std::find(words.begin(), words.end(), value.text());
    if (value.is_scalar() && found != words.end())
        return static_cast<std::size_t>(found - words.begin());
    wrong_value(value, fmt::format("expected one of {}, found {}{}", fmt::join(words, ", "),
                                   value.description(), hint(value.text(), words)));
    return std::nullopt;
}

// --- what named lists take ---------------------------------------------------

std::optional<plan::ParameterKind> ReadContext::parameter_kind(std::string_view text) const {
    if (defines_ == nullptr || !text.starts_with('$')) return std::nullopt;
    const auto found =
        std::find_if(defines_->takes.begin(), defines_->takes.end(),
                     [&](const plan::Parameter& each) { return each.name == text.substr(1); });
    if (found == defines_->takes.end()) return std::nullopt;
    return found->kind;
}

std::optional<NotGiven>
ReadContext::parameter_problem(std::string_view text,
                               std::initializer_list<plan::ParameterKind> wanted) {
    const auto kind = parameter_kind(text);
    if (!kind) {
        std::vector<std::string_view> known;
        for (const plan::Parameter& each : defines_->takes) known.push_back(each.name);
        return NotGiven{"unknown-name", fmt::format("list {} takes no \"{}\"{}", defines_->name,
                                                    text.substr(1), hint(text.substr(1), known))};
    }
    if (std::find(wanted.begin(), wanted.end(), *kind) != wanted.end()) return std::nullopt;
    std::vector<std::string> kinds;
    for (const plan::ParameterKind each : wanted)
        kinds.push_back(plan::with_article(plan::name_of(each)));
    return NotGiven{"wrong-value", fmt::format("{} is {}, and {} is wanted here", text,
                                               plan::with_article(plan::name_of(*kind)),
                                               plan::joined(kinds, " or "))};
}

bool ReadContext::parameter(std::string_view text, Spot spot,
                            std::initializer_list<plan::ParameterKind> wanted) {
    if (!is_parameter(text)) return false;
    mention_parameter(text, spot);
    if (const auto problem = parameter_problem(text, wanted))
        error(problem->finding, spot.place, problem->message);
    return true;
}

void ReadContext::mention_parameter(std::string_view text, Spot spot) {
    ++spot.at; // behind the $
    mention("parameter", defines_->name, text.substr(1), spot);
}

ReadContext::ForUse::ForUse(ReadContext& reading, std::vector<GivenName> given)
    : reading_(reading), given_(std::move(given)), before_(reading.for_use_) {
    // What a use in a use hands on was given further out.
    for (GivenName& each : given_) {
        if (const GivenName* outer = reading.given_name(each.kind, each.text))
            each.spot = outer->spot;
    }
    reading.for_use_ = &given_;
}

const GivenName* ReadContext::given_name(std::string_view kind, std::string_view name) const {
    if (for_use_ == nullptr || (kind != "entry" && kind != "value")) return nullptr;
    const auto found =
        std::find_if(for_use_->begin(), for_use_->end(), [&](const GivenName& given) {
            return given.kind == kind && given.text == name;
        });
    return found == for_use_->end() ? nullptr : &*found;
}

void ReadContext::parameter_of(std::string_view kind, std::string_view name, Spot spot) {
    const auto found =
        std::find(plan::parameter_kind_names.begin(), plan::parameter_kind_names.end(), kind);
    if (found != plan::parameter_kind_names.end()) {
        parameter(name, spot,
                  {static_cast<plan::ParameterKind>(found - plan::parameter_kind_names.begin())});
        return;
    }
    error("wrong-value", spot.place,
          fmt::format("{} can't stand for {}", name, plan::with_article(kind)));
}

std::string ReadContext::text_of(plan::Place place) const {
    return fmt::format("{}:{}:{}", (*files_)[place.file], place.line, place.column);
}

void ReadContext::defined_twice(std::string_view name, plan::Place place, plan::Place earlier) {
    error("defined-twice", place,
          fmt::format("\"{}\" is defined here again; first at {}", name, text_of(earlier)));
}

void ReadContext::hides(std::string_view kind, std::string_view name, plan::Place place,
                        plan::Place hidden) {
    note("name-hidden", place,
         fmt::format("inside this level \"{}\" means this {}, not the one defined at {}", name,
                     kind, text_of(hidden)));
}

} // namespace hestrel::source
