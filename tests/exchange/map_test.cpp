// The map to glTF and back: what a 3D tool changes, and nothing else, changes in the plan.

#include "exchange/gltf_reader.hpp"
#include "exchange/gltf_writer.hpp"
#include "exchange/import.hpp"
#include "exchange/scene.hpp"
#include "support/plan_text.hpp"
#include "support/random_map.hpp"

#include <nlohmann/json.hpp>

using namespace hestrel;
using exchange::ImportedFile;
using exchange::SceneKind;
using exchange::SceneThing;
using nlohmann::ordered_json;
using tests::Lines;

namespace {

/// A plan and what its map would be, on a disk.
struct MapOnDisk {
    explicit MapOnDisk(const std::string& text) {
        disk.files["plan.yaml"] = text;
        plan = source::read_plan(disk, "plan.yaml").plan;
        world = ordered_json::parse(exchange::gltf_json(plan, {}));
    }
    /// The node that has such a name.
    ordered_json& node(const std::string& name) {
        for (ordered_json& each : world["nodes"]) {
            if (each["name"] == name) return each;
        }
        FAIL("there is no node " << name);
        return world;
    }
    ImportedFile imported(const std::string& into = "plan.yaml") {
        disk.files["world.gltf"] = world.dump();
        return exchange::import_file(disk, into, "world.gltf");
    }
    /// The plan's text with what the file says.
    std::string text_with_it() {
        const ImportedFile result = imported();
        CHECK(result.what.errors.empty());
        return result.files.empty() ? disk.files["plan.yaml"] : result.files.front().second;
    }

    source::MemoryDisk disk;
    plan::Plan plan;
    ordered_json world;
};

/// Whether each thing of one map is in the other, with the same shape.
void check_same_map(const std::vector<SceneThing>& one, const std::vector<SceneThing>& other) {
    REQUIRE(one.size() == other.size());
    for (const SceneThing& thing : one) {
        INFO(exchange::thing_text(thing));
        const auto found = std::find_if(other.begin(), other.end(), [&](const SceneThing& each) {
            return each.kind == thing.kind && each.name == thing.name;
        });
        REQUIRE(found != other.end());
        REQUIRE(found->boxes.size() == thing.boxes.size());
        for (std::size_t i = 0; i < thing.boxes.size(); ++i)
            CHECK(exchange::same_box(found->boxes[i], thing.boxes[i]));
        CHECK(exchange::same_shape(found->shape, thing.shape));
        CHECK(exchange::same_point(found->at, thing.at));
        REQUIRE(found->line.via.size() == thing.line.via.size());
        for (std::size_t i = 0; i < thing.line.via.size(); ++i)
            CHECK(exchange::same_point(found->line.via[i], thing.line.via[i]));
        CHECK(found->level == thing.level);
    }
}

/// A file of one node, which is the trigger `t`, and a mesh of two metres each way.
std::string one_trigger(const std::string& where, const std::string& parents = "") {
    return R"({"asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0]}],
 "meshes": [{"primitives": [{"attributes": {"POSITION": 0}}]}],
 "accessors": [{"componentType": 5126, "count": 8, "type": "VEC3", "min": [-1, -1, -1],
                "max": [1, 1, 1]}],
 "nodes": [)" +
           parents + R"({"name": "box", "mesh": 0, "extras": {"hestrel": "trigger", "name": "t"})" +
           where + "}]}";
}
exchange::ReadScene scene_in(const std::string& text) {
    source::MemoryDisk disk;
    disk.files["world.gltf"] = text;
    return exchange::read_gltf(disk, "world.gltf");
}
plan::Box box_in(const std::string& text) {
    const exchange::ReadScene scene = scene_in(text);
    REQUIRE(scene.errors == Lines{});
    REQUIRE(scene.things.size() == 1);
    return std::get<plan::Box>(scene.things.front().shape);
}

constexpr std::string_view quay_plan = R"(hestrel: 1
levels:
  quay: # the old one
    origin: [100, 0, 0]
    area: [{min: [0, 0, 0], max: [10, 4, 10]}] # in its own space
    triggers:
      stair:
        # where the stair begins
        box:
          min: [1, 0, 1]
          max: [3, 2, 5]   # as wide as the stair
        steps: []
    waypoints: {end: [9, 0, 9], foot: [1, 0, 1]}
    paths: [[foot, end]]
)";

} // namespace

TEST_CASE("map: exported and imported again, not a byte changes") {
    for (std::uint32_t seed = 0; seed < tests::seeds(60); ++seed) {
        CAPTURE(seed);
        MapOnDisk map(tests::RandomMap(seed).text());
        const ImportedFile result = map.imported();
        CHECK(result.what.errors == Lines{});
        CHECK(result.what.notes == Lines{});
        CHECK(result.what.changed == Lines{});
        CHECK(result.what.added.empty());
        CHECK(result.what.kept.empty());
        CHECK(result.what.same == exchange::scene_of(map.plan).size());
        CHECK(result.what.settings.empty());
        CHECK(result.files.empty());
    }
}

TEST_CASE("map: imported into a new plan it has the same shapes within a millimetre") {
    for (std::uint32_t seed = 0; seed < tests::seeds(60); ++seed) {
        CAPTURE(seed);
        MapOnDisk map(tests::RandomMap(seed).text());
        map.disk.files["new.yaml"] = exchange::new_plan_text("new.yaml");
        const ImportedFile result = map.imported("new.yaml");
        REQUIRE(result.what.errors == Lines{});
        REQUIRE(result.files.size() == 1);
        map.disk.files["new.yaml"] = result.files.front().second;
        const source::PlanReading after = source::read_plan(map.disk, "new.yaml");
        REQUIRE_FALSE(after.has_errors());
        check_same_map(exchange::scene_of(map.plan), exchange::scene_of(after.plan));
        // And once more: nothing is left to do.
        CHECK(map.imported("new.yaml").what.settings.empty());
    }
}

TEST_CASE("map: a shape that is moved has its new place, and all else stays as it is written") {
    MapOnDisk map{std::string(quay_plan)};
    map.node("trigger quay.stair")["translation"][0] = 104.0; // the box was about 102
    std::string expected(quay_plan);
    expected.replace(expected.find("min: [1, 0, 1]"), 14, "min: [3, 0, 1]");
    expected.replace(expected.find("max: [3, 2, 5]"), 14, "max: [5, 2, 5]");
    CHECK(map.text_with_it() == expected);
    CHECK(map.imported().what.changed ==
          Lines{"plan.yaml:7:7: trigger quay.stair: moved by 2.00 m"});
    // Larger one way, and turned: only what differs is written.
    map.node("trigger quay.stair")["translation"][0] = 102.0;
    map.node("trigger quay.stair")["scale"] = {2, 2, 6};
    map.node("trigger quay.stair")["rotation"] = {0, 0.25881904510252074, 0, 0.9659258262890683};
    const std::string turned = map.text_with_it();
    CHECK(
        turned.find("          min: [1, 0, 0]\n          max: [3, 2, 6]   # as wide as the stair\n"
                    "          turn: 30\n") != std::string::npos);
}

TEST_CASE("map: areas, waypoints and corners of paths") {
    MapOnDisk map{std::string(quay_plan)};
    map.node("area of quay")["translation"][1] = 3.0;
    map.node("waypoint quay.end")["translation"] = {109.5, 0, 9};
    const std::size_t corner = map.world["nodes"].size();
    map.world["nodes"].push_back(
        {{"name", "bend"}, {"translation", {105, 0, 2}}, {"extras", {{"hestrel", "corner"}}}});
    map.node("path quay.foot to quay.end")["children"].push_back(corner);
    const std::string text = map.text_with_it();
    CHECK(text.find("area: [{min: [0, 1, 0], max: [10, 5, 10]}] # in its own space") !=
          std::string::npos);
    CHECK(text.find("waypoints: {end: [9.5, 0, 9], foot: [1, 0, 1]}") != std::string::npos);
    CHECK(text.find("paths: [{from: foot, to: end, via: [[5, 0, 2]]}]") != std::string::npos);
    CHECK(map.imported().what.changed ==
          Lines{"plan.yaml:3:3: area of quay: moved by 1.00 m",
                "plan.yaml:13:17: waypoint quay.end: moved by 0.50 m",
                "plan.yaml:14:13: path quay.foot to quay.end: now 1 corner"});
}

TEST_CASE("map: what is new stands with its level, what is gone stays and is told") {
    MapOnDisk map{std::string(quay_plan)};
    ordered_json& nodes = map.world["nodes"];
    const auto add = [&](const std::string& name, ordered_json extras) {
        nodes.push_back({{"name", name},
                         {"mesh", 0},
                         {"translation", {101, 0, 0}},
                         {"extras", std::move(extras)}});
    };
    map.node("waypoint quay.foot")["extras"] = {{"made", "by hand"}}; // is not the plan's any more
    add("lift", {{"hestrel", "trigger"}, {"level", "quay"}});
    add("roof", {{"hestrel", "waypoint"}, {"level", "quay"}});
    add("x", {{"hestrel", "area"}, {"level", "shed"}, {"world", "below"}});
    const ImportedFile result = map.imported();
    REQUIRE(result.what.errors == Lines{});
    Lines added;
    for (const auto& each : result.what.added) added.push_back(each.kind + " " + each.name);
    CHECK(added == Lines{"trigger lift", "waypoint roof", "area shed", "level shed"});
    REQUIRE(result.what.kept.size() == 1);
    CHECK(result.what.kept.front().name == "quay.foot");
    REQUIRE(result.files.size() == 1);
    const std::string& text = result.files.front().second;
    CHECK(text.find("        steps: []\n"
                    "      lift: {box: {min: [0.5, -0.5, -0.5], max: [1.5, 0.5, 0.5]}, steps: "
                    "[]}\n") != std::string::npos);
    CHECK(text.find("waypoints: {end: [9, 0, 9], foot: [1, 0, 1], roof: [1, 0, 0]}") !=
          std::string::npos);
    CHECK(text.find("  shed:\n    world: below\n    area: [{min: [100.5, -0.5, -0.5], max: [101.5, "
                    "0.5, 0.5]}]\n") != std::string::npos);
}

TEST_CASE("map: names that are meant otherwise, and names that are none") {
    const auto said = [](const std::string& extras) {
        MapOnDisk map{std::string(quay_plan)};
        map.world["nodes"].push_back(
            {{"name", "new node.001"}, {"mesh", 0}, {"extras", ordered_json::parse(extras)}});
        const ImportedFile result = map.imported();
        CHECK(result.files.empty());
        REQUIRE(result.what.errors.size() == 1);
        return result.what.errors.front();
    };
    CHECK(said(R"({"hestrel": "area", "level": "Quay"})") ==
          "world.gltf: error: area of Quay: there is no level \"Quay\"; it differs from \"quay\" "
          "only in capitals");
    CHECK(said(R"({"hestrel": "waypoint", "level": "quay", "name": "End"})") ==
          "world.gltf: error: waypoint End: there is no waypoint \"End\"; it differs from \"end\" "
          "only in capitals");
    CHECK(said(R"({"hestrel": "waypoint"})") ==
          "world.gltf: error: waypoint new node.001: \"new node\" is no name of a level: letters, "
          "digits, - and _, starting with a letter or digit");
    CHECK(said(R"({"hestrel": "triger", "name": "t"})") ==
          "world.gltf: error: node 6 \"new node.001\": \"hestrel\" says \"triger\", which is "
          "nothing of a plan; did you mean \"trigger\"?");
    CHECK(
        said(R"({"hestrel": "waypoint", "name": "quay.end"})") ==
        "world.gltf: error: node 6 \"new node.001\": node 2 \"waypoint quay.end\" is the waypoint "
        "quay.end as well");
    CHECK(
        said(R"({"hestrel": "path", "from": "quay.end", "to": "roof"})") ==
        "world.gltf: error: path quay.end to roof: neither plan nor file has a waypoint \"roof\"");
}

TEST_CASE("map: boxes as tools write them") {
    using plan::Vec3;
    const auto check_box = [](const plan::Box& box, const Vec3& min, const Vec3& max, double turn) {
        CHECK(exchange::same_point(box.min, min));
        CHECK(exchange::same_point(box.max, max));
        CHECK(box.turn == Approx(turn).margin(1e-9));
    };
    // Scaled and moved.
    check_box(box_in(one_trigger(R"(, "translation": [10, 1, 20], "scale": [2, 3, 4])")),
              {8, -2, 16}, {12, 4, 24}, 0);
    // Lying on its back: what was up is north.
    check_box(box_in(one_trigger(
                  R"(, "rotation": [-0.7071067811865476, 0, 0, 0.7071067811865476],
                       "scale": [1, 2, 3])")),
              {-1, -3, -2}, {1, 3, 2}, 0);
    // A quarter about the vertical is another order of its sides, a third of that a turn.
    check_box(box_in(one_trigger(R"(, "rotation": [0, 0.7071067811865476, 0, 0.7071067811865476],
                                     "scale": [2, 1, 5])")),
              {-5, -1, -2}, {5, 1, 2}, 0);
    check_box(box_in(one_trigger(R"(, "rotation": [0, 0.25881904510252074, 0, 0.9659258262890683],
                                     "scale": [2, 1, 5])")),
              {-2, -1, -5}, {2, 1, 5}, 30);
    // Mirrored, and by a matrix.
    check_box(box_in(one_trigger(R"(, "matrix": [-2,0,0,0, 0,1,0,0, 0,0,1,0, 7,8,9,1])")),
              {5, 7, 8}, {9, 9, 10}, 0);
    // In a node that is turned on its side, as of a tool whose z is up: x stays, y is -z.
    check_box(box_in(one_trigger(R"(, "translation": [1, 2, 3])",
                                 R"({"children": [1],
                                    "rotation": [-0.7071067811865476, 0, 0, 0.7071067811865476]},)")),
              {0, 2, -3}, {2, 4, -1}, 0);
    // Askew: half a turn of 45 degrees about z makes it the root of two wider.
    const exchange::ReadScene askew =
        scene_in(one_trigger(R"(, "rotation": [0, 0, 0.3826834323650898, 0.9238795325112867])"));
    REQUIRE(askew.things.size() == 1);
    const double wide = std::sqrt(2.0);
    check_box(std::get<plan::Box>(askew.things.front().shape), {-wide, -wide, -1}, {wide, wide, 1},
              0);
    CHECK(askew.notes ==
          Lines{"world.gltf: note: node 0 \"box\": it stands askew: the box around it is taken"});
}

TEST_CASE("map: positions stand in the nodes' translations, meshes are unit boxes") {
    MapOnDisk map{std::string(quay_plan)};
    CHECK(map.node("trigger quay.stair")["translation"] == ordered_json({102.0, 1.0, 3.0}));
    CHECK(map.node("trigger quay.stair")["scale"] == ordered_json({2.0, 2.0, 4.0}));
    CHECK(map.node("trigger quay.stair")["extras"] ==
          ordered_json({{"hestrel", "trigger"}, {"name", "quay.stair"}, {"level", "quay"}}));
    for (const ordered_json& mesh : map.world["meshes"]) {
        const auto& positions =
            map.world["accessors"]
                     [mesh["primitives"][0]["attributes"]["POSITION"].get<std::size_t>()];
        CHECK(positions["min"] == ordered_json({-0.5, -0.5, -0.5}));
        CHECK(positions["max"] == ordered_json({0.5, 0.5, 0.5}));
    }
}
