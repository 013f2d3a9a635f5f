// hestrel import and export as people run them.

#include "support/program.hpp"

#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::contents;
using tests::Folder;
using tests::run;

namespace {

/// A folder with the example in it.
struct Example : Folder {
    Example() { std::filesystem::copy(HESTREL_SOURCE "/examples/glasswater", *this / "plan"); }

    /// Everything that the plan says.
    [[nodiscard]] std::map<std::string, std::string> plan() const {
        std::map<std::string, std::string> texts;
        for (const std::string& name : files()) {
            if (name.starts_with("plan/")) texts[name] = contents(*this / name);
        }
        return texts;
    }
};

} // namespace

TEST_CASE("import: the example's lake has two shapes that were moved", "[program]") {
    const Example folder;
    const auto before = folder.plan();
    const std::string import = "HESTREL import plan/lake.gltf --into plan/glasswater.yaml";
    const auto dry = run(folder, import + " --dry-run");
    CHECK(dry.code == 0);
    CHECK(dry.out.find("plan/coast.yaml:44\n"
                       "-         box: {min: [48, -8, 14], max: [52, 0, 26], turn: 15}\n"
                       "+         box: {min: [51, -8, 14], max: [55, 0, 26], turn: 15}\n") == 0);
    CHECK(dry.out.find("trigger quay.post-box: moved by 3.00 m\n") != std::string::npos);
    CHECK(dry.out.find("plan/lake.gltf: 2 changed, 0 new, 24 as before, ") != std::string::npos);
    CHECK(folder.plan() == before);

    CHECK(run(folder, import).code == 0);
    auto expected = before;
    std::string& coast = expected["plan/coast.yaml"];
    for (const auto& [old_text, new_text] :
         {std::pair("{min: [48, -8, 14], max: [52, 0, 26]", "{min: [51, -8, 14], max: [55, 0, 26]"),
          std::pair("{min: [152, -10, 0], max: [175, 4, 40]",
                    "{min: [152, -10, 4], max: [175, 4, 44]")}) {
        const auto at = coast.find(old_text);
        REQUIRE(at != std::string::npos);
        coast.replace(at, std::string_view(old_text).size(), new_text);
    }
    CHECK(folder.plan() == expected);
    const auto again = run(folder, import + " --dry-run");
    CHECK(again.out.find("0 changed, 0 new, 26 as before") != std::string::npos);
}

TEST_CASE("export and import: the example comes back as it was, and begins a new plan",
          "[program]") {
    const Example folder;
    const auto before = folder.plan();
    CHECK(run(folder, "HESTREL export plan/glasswater.yaml --as gltf --out out").out ==
          "out/world.gltf\n");
    CHECK(run(folder, "HESTREL export plan/glasswater.yaml --as csv --out out").code == 0);
    const std::string files = "HESTREL import out/world.gltf out/levels.csv --into ";
    CHECK(run(folder, files + "plan/glasswater.yaml").code == 0);
    CHECK(folder.plan() == before);
    const auto begun = run(folder, files + "new.yaml");
    CHECK(begun.code == 0);
    CHECK(begun.err == "");
    CHECK(contents(folder / "new.yaml").find("hestrel: 1\nname: new\nlevels:\n") == 0);
    // Exported again the map is the same, but for what only the old plan says.
    CHECK(run(folder, "HESTREL export new.yaml --as gltf --out new").code == 0);
    const auto old_map = nlohmann::json::parse(contents(folder / "out/world.gltf"));
    const auto new_map = nlohmann::json::parse(contents(folder / "new/world.gltf"));
    const auto place_of = [](const nlohmann::json& node) {
        return node.contains("translation") ? node["translation"].dump() : std::string();
    };
    std::map<std::string, std::string> places;
    for (const auto& node : old_map["nodes"]) places[node["name"]] = place_of(node);
    std::size_t same = 0;
    for (const auto& node : new_map["nodes"]) {
        if (node.contains("extras") && node["extras"].contains("hestrel") &&
            places.at(node["name"]) == place_of(node))
            ++same;
    }
    CHECK(same >= 80);
}

TEST_CASE("import: what is wrong changes nothing", "[program]") {
    const Example folder;
    const auto before = folder.plan();
    const std::string into = " --into plan/glasswater.yaml";
    folder.write("cut.gltf", R"({"asset": {"version": "2.0"}, "nodes": [)");
    folder.write("away.gltf", R"({"asset": {"version": "2.0"},
        "buffers": [{"byteLength": 4, "uri": "../../../etc/hostname"}]})");
    folder.write("wrong.csv", "level,texture\nQuay,12\n");
    const auto cut = run(folder, "HESTREL import plan/lake.gltf cut.gltf" + into);
    CHECK(cut.code == 1);
    CHECK(cut.err == "cut.gltf:1:41: error: the file is cut off here\nnothing was changed\n");
    CHECK(run(folder, "HESTREL import away.gltf" + into).err.find("outside of its folder") !=
          std::string::npos);
    CHECK(run(folder, "HESTREL import wrong.csv" + into).code == 1);
    CHECK(run(folder, "HESTREL import wrong.csv --into other.yaml").code == 0); // a new Quay
    CHECK(run(folder, "HESTREL import wrong.csv --into nowhere/new.yaml").code == 3);
    CHECK(run(folder, "HESTREL import none.gltf" + into).code == 3);
    CHECK(run(folder, "HESTREL import plan/lake.gltf").code == 2);
    CHECK(run(folder, "HESTREL import" + into).code == 2);
    CHECK(run(folder, "HESTREL import plan/coast.yaml" + into).err ==
          "hestrel: plan/coast.yaml can't be imported: .gltf, .glb and .csv can\n");
    CHECK(folder.plan() == before);
}

TEST_CASE("export: every form, for the walks that are asked for", "[program]") {
    const Example folder;
    const std::string first = "HESTREL export plan/glasswater.yaml --out out --route first-round "
                              "--device console --as ";
    CHECK(run(folder, first + "gltf").out == "out/first-round--console/world.gltf\n");
    CHECK(run(folder, first + "trace").out == "out/first-round--console/trace.json\n");
    CHECK(run(folder, first + "graphml").out == "out/flow.graphml\n");
    CHECK(run(folder, first + "dot").out == "out/flow.dot\n");
    CHECK(run(folder, first + "csv").out == "out/levels.csv\nout/triggers.csv\nout/ways.csv\n");
    const auto plan = run(folder, "HESTREL export plan/glasswater.yaml --as json --out out");
    CHECK(plan.out == "out/plan.json\nout/plan.schema.json\n");
    const auto game = nlohmann::json::parse(contents(folder / "out/plan.json"));
    CHECK(std::filesystem::exists(folder / ("out/" + game["$schema"].get<std::string>())));
    // Another program reads the graph.
    CHECK(run(folder, "dot -Tplain out/flow.dot").code == 0);
    CHECK(run(folder, first + "json").code == 2);
    CHECK(run(folder, first + "gtlf").err ==
          "hestrel: --as takes gltf, graphml, dot, trace, json or csv, not \"gtlf\"; did you mean "
          "\"gltf\"?\n");
    CHECK(run(folder, "HESTREL export plan/glasswater.yaml").code == 2);
    CHECK(run(folder, "HESTREL export none.yaml --as csv").code == 3);
}

TEST_CASE("export: a walk's own trace is a log that agrees with the plan", "[program]") {
    const Example folder;
    for (const std::string device : {"handheld", "console"}) {
        CAPTURE(device);
        CHECK(run(folder, "HESTREL export plan/glasswater.yaml --as trace --route first-round "
                          "--device " +
                              device + " --out out --force")
                  .code == 0);
        const auto same = run(folder, "HESTREL verify plan/glasswater.yaml out/first-round--" +
                                          device + "/trace.json --device " + device +
                                          " --no-figures --out verified --force");
        CHECK(same.code == 0);
        CHECK(same.out.find("nothing found") != std::string::npos);
    }
}
