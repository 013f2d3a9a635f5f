#include "source/schema.hpp"

#include "source/json.hpp"
#include "source/plan_keys.hpp"
#include "source/yaml_json.hpp"

#include <fmt/format.h>

namespace hestrel::source {

namespace {

constexpr std::string_view name_pattern = "^[A-Za-z0-9][A-Za-z0-9_-]*$";
constexpr std::string_view number_pattern = "[-+]?([0-9]+\\.?[0-9]*|\\.[0-9]+)([eE][-+]?[0-9]+)?";

constexpr std::string_view memory_words = "KiB|MiB|GiB|kB|MB|GB";
constexpr std::string_view distance_words = "cm|m|km";
constexpr std::string_view time_words = "us|ms|s|min";
constexpr double most_memory = 1048576;
constexpr double longest = 1e7; ///< of times in s, and of distances in m

/// What YAML takes for a number or a truth value can be meant as a name or text.
Json text_schema() {
    return {{"type", {"string", "number", "boolean"}}};
}

Json name_schema() {
    Json schema = text_schema();
    schema["pattern"] = name_pattern;
    return schema;
}

/// So many names with dots between them; what stands inside a level is `level.name`. In a named
/// list each may be `$what it takes`.
Json dotted_schema(int least, int most) {
    constexpr std::string_view name = "\\$?[A-Za-z0-9][A-Za-z0-9_-]*";
    Json schema = text_schema();
    schema["pattern"] = fmt::format("^{0}(\\.{0}){{{1},{2}}}$", name, least - 1, most - 1);
    return schema;
}

/// The name of something that is defined elsewhere.
Json reference_schema() {
    return dotted_schema(1, 2);
}

Json quantity_schema(std::string_view units, double least, double most) {
    const std::string number(number_pattern);
    Json plain{{"type", "number"}, {"minimum", least}, {"maximum", most}};
    Json with_unit{{"type", "string"}, {"pattern", fmt::format("^ *{} *({})? *$", number, units)}};
    return {{"anyOf", {plain, with_unit}}};
}

Json memory_schema() {
    return quantity_schema(memory_words, 0, most_memory);
}

/// A quantity, or a range of it.
Json range_schema(std::string_view units, double least, double most) {
    Json schema = quantity_schema(units, least, most);
    const std::string number(number_pattern);
    const std::string unit = fmt::format(" *({})? *", units);
    schema["anyOf"].push_back(
        {{"type", "string"}, {"pattern", fmt::format("^ *{0}{1}\\.\\.{1}{0}{1}$", number, unit)}});
    return schema;
}

Json memory_range_schema() {
    return range_schema(memory_words, 0, most_memory);
}

Json list_of(const Json& item) {
    return {{"type", "array"}, {"items", item}};
}

Json one_or_list_of(const Json& item) {
    return {{"anyOf", {item, list_of(item)}}};
}

Json by_pattern(const Json& pattern, const Json& value) {
    return {{"type", "object"},
            {"patternProperties", {{pattern.get<std::string>(), value}}},
            {"additionalProperties", false}};
}
/// Names of the designer's own choice, each with a value of one kind.
Json by_name(const Json& value) {
    return by_pattern(std::string(name_pattern), value);
}

Json or_nothing(const Json& schema) {
    return {{"anyOf", {schema, {{"type", "null"}}}}};
}

Json reference(const ObjectKeys& keys) {
    return {{"$ref", fmt::format("#/definitions/{}", keys.id)}};
}

Json point_schema() {
    const Json coordinate = quantity_schema(distance_words, -1e7, 1e7);
    return {{"type", "array"}, {"items", coordinate}, {"minItems", 3}, {"maxItems", 3}};
}

Json pair_of(const Json& item) {
    return {{"type", "array"}, {"items", item}, {"minItems", 2}, {"maxItems", 2}};
}

Json value_schema() {
    return {{"type", {"boolean", "integer", "string"}}};
}

/// Levels by a fact: {by: village, north: north-village, else: none}.
Json levels_by_fact_schema() {
    return {{"type", "object"},
            {"required", {"by"}},
            {"patternProperties", {{"^[A-Za-z0-9_-]+$", reference_schema()}}},
            {"additionalProperties", false}};
}

Json level_schema() {
    return {{"anyOf", {reference_schema(), levels_by_fact_schema()}}};
}

Json words_of(const Key& key) {
    Json schema;
    for (const std::string_view word : key.words) schema["enum"].push_back(word);
    return schema;
}

Json steps_schema() {
    return list_of(reference(keys::step));
}

Json schema_of(const Key& key) {
    switch (key.takes) {
    case Takes::text:
    case Takes::condition: return text_schema();
    case Takes::text_list: return one_or_list_of(text_schema());
    case Takes::flag: return {{"type", "boolean"}};
    case Takes::count: return {{"type", "integer"}, {"minimum", 0}};
    case Takes::number: return {{"type", "number"}};
    case Takes::share: return quantity_schema("%", 0, 1);
    case Takes::memory: return memory_schema();
    case Takes::memory_range: return memory_range_schema();
    case Takes::time: return quantity_schema(time_words, 0, longest);
    case Takes::time_range: return range_schema(time_words, 0, longest);
    case Takes::data_rate: return quantity_schema("MiB/s|MB/s|GiB/s|GB/s", 1.0 / 1024, 16777216);
    case Takes::speed: return quantity_schema("m/s|km/h", 1e-6, 1e5);
    case Takes::distance: return quantity_schema(distance_words, -longest, longest);
    case Takes::point: return point_schema();
    case Takes::point_list: return list_of(point_schema());
    case Takes::flat_point:
    case Takes::heights: return pair_of(quantity_schema(distance_words, -longest, longest));
    case Takes::length_or_flat: {
        const Json length = quantity_schema(distance_words, 0, longest);
        return {{"anyOf", {length, pair_of(length)}}};
    }
    case Takes::cell_list: return list_of(pair_of({{"type", "integer"}, {"minimum", 0}}));
    case Takes::name: return reference_schema();
    case Takes::name_list: return one_or_list_of(reference_schema());
    case Takes::word_list: return one_or_list_of(name_schema());
    case Takes::dotted_name: return dotted_schema(2, 3);
    case Takes::word: return words_of(key);
    case Takes::value: return value_schema();
    case Takes::value_list: return one_or_list_of(name_schema());
    case Takes::range:
        return {
            {"type", "array"}, {"items", {{"type", "integer"}}}, {"minItems", 2}, {"maxItems", 2}};
    case Takes::object: return reference(*key.inner);
    case Takes::objects: return one_or_list_of(reference(*key.inner));
    case Takes::named: return or_nothing(by_name(reference(*key.inner)));
    case Takes::named_or_nothing: return or_nothing(by_name(or_nothing(reference(*key.inner))));
    case Takes::names_by_name: return or_nothing(by_name(reference_schema()));
    case Takes::memory_by_name: return or_nothing(by_name(memory_schema()));
    case Takes::ranges_by_name: return or_nothing(by_name(memory_range_schema()));
    case Takes::speeds_by_name: return or_nothing(by_name(quantity_schema("m/s|km/h", 1e-6, 1e5)));
    case Takes::values_by_name:
        return or_nothing(by_pattern(reference_schema()["pattern"],
                                     {{"anyOf", {value_schema(), reference(keys::assignment)}}}));
    case Takes::texts_by_name: return or_nothing(by_name(text_schema()));
    case Takes::by_device: return or_nothing(by_name(reference(*key.inner)));
    case Takes::parcels: return list_of(by_name(one_or_list_of(name_schema())));
    case Takes::step_list: return steps_schema();
    case Takes::steps_by_name: return by_name(steps_schema());
    case Takes::route_steps: return list_of(reference(keys::route_step));
    case Takes::points_by_name:
        return or_nothing(by_name({{"anyOf", {point_schema(), reference(*key.inner)}}}));
    case Takes::paths: {
        Json chain = list_of(reference_schema());
        chain["minItems"] = 2;
        return list_of({{"anyOf", {chain, reference(*key.inner)}}});
    }
    case Takes::time_or_object:
        return {{"anyOf", {quantity_schema(time_words, 0, longest), reference(*key.inner)}}};
    case Takes::level_or_position:
        return {
            {"anyOf", {reference_schema(), levels_by_fact_schema(), reference(keys::position)}}};
    case Takes::levels: return one_or_list_of(level_schema());
    case Takes::list_use:
        return {{"anyOf",
                 {reference_schema(),
                  by_pattern(reference_schema()["pattern"],
                             by_name({{"type", {"string", "number", "boolean"}}}))}}};
    case Takes::kinds_by_name: return or_nothing(by_name(words_of(key)));
    case Takes::word_or_object: return {{"anyOf", {words_of(key), reference(*key.inner)}}};
    case Takes::groups:
        return or_nothing(
            by_name({{"anyOf", {list_of(reference_schema()), reference(*key.inner)}}}));
    case Takes::condition_or_object: return {{"anyOf", {text_schema(), reference(*key.inner)}}};
    case Takes::word_or_names:
        return {{"anyOf", {words_of(key), one_or_list_of(reference_schema())}}};
    }
    return {};
}

Json example_of(const Key& key) {
    const YamlTree tree(key.example, 0);
    return yaml_as_json(tree.root());
}

Json described(const Key& key) {
    std::string text = fmt::format("{} Takes {}.", key.sentence, kind_text(key.takes));
    if (!key.fallback.empty()) text += fmt::format(" Without it: {}.", key.fallback);
    // Beside a $ref everything else would be ignored.
    return {{"description", text}, {"allOf", {schema_of(key)}}, {"examples", {example_of(key)}}};
}

Json object_schema(const ObjectKeys& keys) {
    Json schema{{"type", "object"}, {"description", fmt::format("What {} says.", keys.name)}};
    Json properties = Json::object();
    Json required = Json::array();
    Json names = Json::array();
    for (const Key& key : keys.keys) {
        properties[std::string(key.name)] = described(key);
        if (key.required) required.push_back(key.name);
        if (!key.beside) names.push_back({{"required", {key.name}}});
    }
    schema["properties"] = std::move(properties);
    schema["additionalProperties"] = false;
    if (!required.empty()) schema["required"] = std::move(required);
    const bool is_step = keys.id == keys::step.id || keys.id == keys::route_step.id;
    if (is_step) schema["oneOf"] = std::move(names); // exactly one key names a step
    return schema;
}

} // namespace

std::string plan_schema() {
    Json schema{{"$schema", "http://json-schema.org/draft-07/schema#"},
                {"title", "A plan file of Hestrel"}};
    schema.update(object_schema(keys::plan));
    Json definitions = Json::object();
    for (const ObjectKeys* keys : keys::all()) {
        if (keys->id != keys::plan.id) definitions[std::string(keys->id)] = object_schema(*keys);
    }
    schema["definitions"] = std::move(definitions);
    return single_file_text(schema, "$comment");
}

// --- for people --------------------------------------------------------------

namespace {

std::string cell(std::string_view text) {
    std::string escaped;
    for (const char c : text) {
        if (c == '|') escaped += '\\';
        escaped += c;
    }
    return escaped;
}

std::string takes_text(const Key& key) {
    std::string text = cell(kind_text(key.takes));
    if (!key.words.empty()) {
        std::string words;
        for (const std::string_view word : key.words)
            words += fmt::format("{}`{}`", words.empty() ? "" : ", ", word);
        text = words;
        if (key.takes == Takes::word_or_names) text += ", or names of facts";
        if (key.takes == Takes::word_or_object) text += ", or a mapping";
    }
    if (key.inner != nullptr) text += fmt::format(" ([{}](#{}))", key.inner->id, key.inner->id);
    return text;
}

} // namespace

std::string plan_keys_markdown() {
    std::string text;
    for (const ObjectKeys* keys : keys::all()) {
        text += fmt::format(
            "### {}\n\nWhat {} says.\n\n| key | takes | without it | meaning | example |\n"
            "|---|---|---|---|---|\n",
            keys->id, keys->name);
        for (const Key& key : keys->keys) {
            const std::string_view fallback = key.required ? "must be there" : key.fallback;
            text += fmt::format("| `{}` | {} | {} | {} | `{}: {}` |\n", key.name, takes_text(key),
                                cell(fallback), cell(key.sentence), key.name, cell(key.example));
        }
        text += "\n";
    }
    text.pop_back();
    return text;
}

} // namespace hestrel::source
