// The JSON Schema against the reader: each knows what the other knows, and what the reader takes
// the schema takes.

#include "source/schema.hpp"

#include "source/plan_keys.hpp"
#include "source/yaml_json.hpp"
#include "support/dice.hpp"
#include "support/plan_text.hpp"
#include "support/program.hpp"
#include "support/random_plan.hpp"

#include <filesystem>
#include <map>
#include <nlohmann/json.hpp>
#include <set>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>

using namespace hestrel;
using namespace hestrel::tests;
using nlohmann::json;

namespace {

const json& schema_json() {
    static const json schema = json::parse(source::plan_schema());
    return schema;
}

/// What the schema says of one plan file; "" where it has nothing to say against it.
std::string schema_says(const std::string& text) {
    static const valijson::Schema& schema = []() -> const valijson::Schema& {
        static valijson::Schema parsed;
        valijson::SchemaParser parser(valijson::SchemaParser::kDraft7);
        parser.populateSchema(valijson::adapters::NlohmannJsonAdapter(schema_json()), parsed);
        return parsed;
    }();
    const source::YamlTree tree(text, 0);
    const json document = json::parse(source::yaml_as_json(tree.root()).dump());
    valijson::Validator validator;
    valijson::ValidationResults results;
    if (validator.validate(schema, valijson::adapters::NlohmannJsonAdapter(document), &results))
        return {};
    std::string said;
    valijson::ValidationResults::Error error;
    while (results.popError(error)) {
        for (const std::string& part : error.context) said += part;
        said += ": " + error.description + "\n";
    }
    return said.empty() ? "invalid" : said;
}

/// A plan with one object of each kind, where % stands for its keys.
const std::map<std::string_view, std::string>& contexts() {
    static const std::string device =
        "devices: {d: {memory: {total: 9}, read: {rate: 9}, frame: {fps: 9}, ";
    static const std::string steps = "triggers: {t: {when: veiled, steps: [";
    static const std::map<std::string_view, std::string> all{
        {"plan", "%"},
        {"device", "devices: {d: {%}}"},
        {"device-memory", "devices: {d: {memory: {%}}}"},
        {"read", "devices: {d: {read: {%}}}"},
        {"unpack", device + "unpack: {%}}}"},
        {"makers", device + "makers: {%}}}"},
        {"frame", "devices: {d: {frame: {%}}}"},
        {"attach", device + "attach: {%}}}"},
        {"release", device + "release: {%}}}"},
        {"download", device + "download: {%}}}"},
        {"spread", device + "spread: {%}}}"},
        {"kit", "kits: {k: {%}}"},
        {"level", "levels: {p: {sublevels: {l: {%}}}}"},
        {"group", "groups: {g: {%}}"},
        {"cells", "levels: {l: {cells: {%}}}"},
        {"cell", "levels: {l: {cells: {size: 9, each: {%}}}}"},
        {"figures", "kits: {k: {on: {d: {%}}}}"},
        {"level-figures", "levels: {l: {on: {d: {%}}}}"},
        {"purpose", "purposes: {p: {%}}"},
        {"box", "levels: {l: {area: {%}}}"},
        {"sphere", "triggers: {t: {steps: [], sphere: {%}}}"},
        {"beyond", "triggers: {t: {steps: [], beyond: {%}}}"},
        {"near", "levels: {l: {near: {%}}}"},
        {"waypoint", "waypoints: {w: {%}}"},
        {"path", "paths: [{%}]"},
        {"gate", "gates: {g: {%}}"},
        {"trigger", "triggers: {t: {%}}"},
        {"menu", "menus: {m: {%}}"},
        {"item", "menus: {m: {items: {i: {%}}}}"},
        {"after", "menus: {m: {items: {}, after: {%}}}"},
        {"veil", "veils: {v: {%}}"},
        {"fact", "facts: {f: {%}}"},
        {"list", "lists: {l: {%}}"},
        {"player", "players: {p: {%}}"},
        {"rule", "rules: [{%}]"},
        {"limits", "limits: {%}"},
        {"edition", "editions: {e: {%}}"},
        {"route", "routes: {r: {%}}"},
        {"route-player", "routes: {r: {players: {a: {%}}}}"},
        {"machine", "routes: {r: {steps: [], machines: {a: {%}}}}"},
        {"network", "routes: {r: {steps: [], machines: {a: {device: any}}, network: {%}}}"},
        {"start", "routes: {r: {start: {%}, steps: []}}"},
        {"step", steps + "{%}]}}"},
        {"wait", steps + "{wait: {%}}]}}"},
        {"switch", steps + "{switch: {%}}]}}"},
        {"relative-switch", steps + "{next: {%}}]}}"},
        {"place", steps + "{place: {%}}]}}"},
        {"return", steps + "{return: {%}}]}}"},
        {"position", steps + "{switch: {to: {%}}}]}}"},
        {"assignment", "facts: {f: {initial: 0}}\n" + steps + "{set: {f: {%}}}]}}"},
        {"expect", "routes: {r: {steps: [{expect: {%}}]}}"},
        {"route-step", "routes: {r: {steps: [{%}]}}"},
    };
    return all;
}

std::string in_context(std::string_view object, const std::string& keys) {
    std::string text = contexts().at(object);
    text.replace(text.find('%'), 1, object == "plan" ? "{" + keys + "}" : keys);
    return object == "plan" ? text : "hestrel: 1\n" + text;
}

/// Whether the reader knows a key where it stands, and takes its value's kind.
bool reader_takes(std::string_view object, const std::string& key, const std::string& value) {
    source::MemoryDisk disk;
    disk.files = {{"plan.yaml", in_context(object, key + ": " + value)},
                  {"measured.csv", "piece\n"},
                  {"levels/a.yaml", "{}"}};
    const source::PlanReading reading = source::read_plan(disk, "plan.yaml");
    return std::none_of(reading.findings.begin(), reading.findings.end(), [&](const auto& finding) {
        const bool about_form =
            finding.name == "unknown-key" ||
            (finding.name == "wrong-value" && finding.message.starts_with("expected"));
        return about_form && finding.message.find("expected the name") == std::string::npos;
    });
}

} // namespace

TEST_CASE(
    "the schema knows every key that the reader knows, and the reader every key of the schema") {
    std::set<std::string> in_schema;
    const auto collect = [&](const std::string& object, const json& definition) {
        CHECK(definition["additionalProperties"] == false);
        for (const auto& [key, property] : definition["properties"].items()) {
            in_schema.insert(object + "." + key);
            CAPTURE(object, key);
            CHECK_FALSE(property["description"].get<std::string>().empty());
        }
    };
    collect("plan", schema_json());
    for (const auto& [name, definition] : schema_json()["definitions"].items())
        collect(name, definition);
    std::set<std::string> in_reader;
    for (const source::ObjectKeys* keys : source::keys::all()) {
        for (const source::Key& key : keys->keys)
            in_reader.insert(fmt::format("{}.{}", keys->id, key.name));
    }
    CHECK(in_schema == in_reader);
    CHECK(in_schema.size() > 200);
}

TEST_CASE("the reader knows every key of the schema in its place, and takes its example") {
    for (const source::ObjectKeys* keys : source::keys::all()) {
        CHECK_FALSE(reader_takes(keys->id, "no-such-key", "1"));
        for (const source::Key& key : keys->keys) {
            CAPTURE(keys->id, key.name);
            CHECK(reader_takes(keys->id, std::string(key.name), std::string(key.example)));
        }
    }
}

TEST_CASE("the schema refuses a key that it does not know, everywhere") {
    for (const source::ObjectKeys* keys : source::keys::all()) {
        CAPTURE(keys->id);
        CHECK_FALSE(schema_says(in_context(keys->id, "no-such-key: 1")).empty());
    }
}

TEST_CASE("the schema takes the example plans, and files that are included") {
    std::size_t files = 0;
    for (const auto& entry :
         std::filesystem::recursive_directory_iterator(HESTREL_SOURCE "/examples")) {
        if (entry.path().extension() != ".yaml") continue;
        CAPTURE(entry.path().string());
        CHECK(schema_says(contents(entry.path().string())).empty());
        ++files;
    }
    CHECK(files == 7);
    CHECK(schema_says("kits: {wood: , iron: {memory: {texture: 80..140 MB}}}").empty());
}

TEST_CASE("the schema refuses values of the wrong kind") {
    for (const char* wrong :
         {"levels: [quay]", "levels: {quay: {memory: {texture: much}}}",
          "levels: {quay: {persist: 1}}", "levels: {quay: {packed: 4 parsecs}}",
          "levels: {quay: {area: {min: [0, 0], max: [1, 1, 1]}}}", "levels: {bad name: {}}",
          "devices: {d: {read: {}}}", "paths: [[a]]", "triggers: {t: {fires: often, steps: []}}",
          "triggers: {t: {steps: [{}]}}", "triggers: {t: {steps: [{load: [a], show: [a]}]}}",
          "facts: {f: {initial: [1]}}", "levels: {quay: {memory: {texture: -1}}}",
          "players: {p: {tags: null}}", "hestrel: one"}) {
        CAPTURE(wrong);
        CHECK_FALSE(schema_says(wrong).empty());
        CHECK(read_text(wrong).has_errors());
    }
}

TEST_CASE("what the reader takes the schema takes: plans with one value put in another's place") {
    Dice dice(7);
    int taken = 0;
    for (int round = 0; round < 1'000; ++round) {
        std::string text = RandomPlan(static_cast<std::uint32_t>(round)).text();
        // One value, number or word, becomes another of the plan's, or something odd.
        const std::vector<std::string> odd{"7",     "-3",        "true", "0.5 s", "12 MiB", "5%",
                                           "[]",    "{}",        "quay", "1e3",   "''",     "3..9",
                                           "\"4\"", "[1, 2, 3]", "~",    "+1",    "null"};
        const std::size_t from = text.find(
            ": ", static_cast<std::size_t>(dice.below(static_cast<int>(text.size()) - 9)));
        if (from == std::string::npos) continue;
        const std::size_t end = text.find_first_of(",}\n", from + 2);
        if (end == std::string::npos) continue;
        text.replace(from + 2, end - from - 2,
                     odd[static_cast<std::size_t>(dice.below(static_cast<int>(odd.size())))]);
        bool readable = true;
        try {
            readable = !read_text(text).has_errors();
        } catch (const source::YamlError&) {
            readable = false;
        }
        if (!readable) continue;
        ++taken;
        CAPTURE(text);
        CHECK(schema_says(text).empty());
    }
    CHECK(taken > 50);
}

TEST_CASE("docs/plan-format.md says what the table of keys says") {
    const std::string page = contents(std::string(HESTREL_SOURCE) + "/docs/plan-format.md");
    // Made anew by: hestrel schema --markdown
    const std::size_t keys = page.find("### plan\n");
    REQUIRE(keys != std::string::npos);
    CHECK(page.substr(keys) == source::plan_keys_markdown());
}
