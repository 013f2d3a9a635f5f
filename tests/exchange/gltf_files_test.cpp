// glTF files that are broken, or mean harm: one message, and nothing is opened.

#include "exchange/gltf_reader.hpp"
#include "exchange/gltf_writer.hpp"
#include "support/plan_text.hpp"
#include "support/random_map.hpp"

#include <nlohmann/json.hpp>

using namespace hestrel;
using tests::Lines;

namespace {

/// Tells what was opened.
class WatchedDisk final : public source::DiskOver {
public:
    explicit WatchedDisk(source::Disk& below) : DiskOver(below) {}
    std::string read(const std::string& path) override {
        opened.push_back(path);
        return below().read(path);
    }
    std::vector<std::string> opened;
};

struct Looked {
    std::vector<std::string> errors;
    std::vector<std::string> opened;
};
Looked look_at(const std::string& bytes, const std::string& name = "maps/world.gltf") {
    source::MemoryDisk files;
    files.files[name] = bytes;
    files.files["maps/near.bin"] = std::string(64, 'x');
    files.files["secret.bin"] = std::string(64, 'x');
    files.files["/etc/hostname"] = "host";
    WatchedDisk disk(files);
    Looked looked;
    looked.errors = exchange::read_gltf(disk, name).errors;
    looked.opened = disk.opened;
    return looked;
}

std::string with_parts(const std::string& parts) {
    return R"({"asset": {"version": "2.0"}, )" + parts + "}";
}
std::string error_of(const std::string& text) {
    const Looked looked = look_at(text);
    REQUIRE(looked.errors.size() == 1);
    CHECK(looked.opened == std::vector<std::string>{"maps/world.gltf"});
    return looked.errors.front();
}

void add_number(std::string& bytes, std::size_t number) {
    for (int i = 0; i < 4; ++i) bytes += static_cast<char>(number >> (8 * i) & 0xFFU);
}
/// The same file as one of bytes.
std::string binary_of(std::string json, const std::string& data = {}) {
    while (json.size() % 4 != 0) json += ' ';
    std::string bytes = "glTF";
    add_number(bytes, 2);
    add_number(bytes, 20 + json.size() + (data.empty() ? 0 : 8 + data.size()));
    add_number(bytes, json.size());
    add_number(bytes, 0x4E4F534A);
    bytes += json;
    if (data.empty()) return bytes;
    add_number(bytes, data.size());
    add_number(bytes, 0x004E4942);
    return bytes + data;
}

} // namespace

TEST_CASE("gltf: a buffer outside of the file's folder is not opened") {
    for (const std::string uri :
         {"../secret.bin", "../../../etc/hostname", "/etc/hostname", "near/../../secret.bin",
          "file:///etc/hostname", "https://example.org/a.bin"}) {
        CAPTURE(uri);
        const std::string error =
            error_of(with_parts(R"("buffers": [{"byteLength": 4, "uri": ")" + uri + R"("}])"));
        CHECK(error.find("outside of its folder") != std::string::npos);
    }
    const Looked near =
        look_at(with_parts(R"("buffers": [{"byteLength": 64, "uri": "near.bin"}])"));
    CHECK(near.errors.empty());
    CHECK(near.opened == std::vector<std::string>{"maps/world.gltf", "maps/near.bin"});
}

TEST_CASE("gltf: images are never opened") {
    const Looked looked =
        look_at(with_parts(R"("images": [{"uri": "near.bin"}, {"uri": "../secret.bin"}],
                      "textures": [{"source": 0}], "materials": [{"name": "wood"}])"));
    CHECK(looked.errors.empty());
    CHECK(looked.opened == std::vector<std::string>{"maps/world.gltf"});
}

TEST_CASE("gltf: nodes in a circle, in two nodes, or nowhere") {
    const auto nodes = [](const std::string& text) {
        return error_of(with_parts(R"("nodes": [)" + text + "]"));
    };
    CHECK(
        nodes(R"({"name": "a", "children": [1]}, {"name": "b", "children": [0]})") ==
        "maps/world.gltf: error: node 0 \"a\": nodes stand in each other, round in a circle: node "
        "1 \"b\" in it, node 0 \"a\" in that");
    CHECK(nodes(R"({"children": [0]})").find("round in a circle") != std::string::npos);
    // What hangs on a circle is in none itself.
    CHECK(nodes(R"({"name": "leaf"}, {"children": [2]}, {"children": [1, 0]})").find("node 0") ==
          std::string::npos);
    CHECK(nodes(R"({"children": [2]}, {"children": [2]}, {})").find("stands in two nodes") !=
          std::string::npos);
    CHECK(nodes(R"({"children": [9]})").find("there is no node 9") != std::string::npos);
}

TEST_CASE("gltf: numbers that are none, or too large") {
    const auto trigger = [](const std::string& where) {
        return error_of(with_parts(
            R"("meshes": [{"primitives": [{"attributes": {"POSITION": 0}}]}],
               "accessors": [{"componentType": 5126, "count": 1, "type": "VEC3",
                              "min": [0, 0, 0], "max": [1, 1, 1]}],
               "nodes": [{"mesh": 0, "extras": {"hestrel": "trigger", "name": "t"}, )" +
            where + "}]"));
    };
    CHECK(trigger(R"("translation": [NaN, 0, 0])") ==
          "maps/world.gltf:4:101: error: this is no JSON: something else is expected here");
    CHECK(trigger(R"("translation": [1e999, 0, 0])").find("too large") != std::string::npos);
    CHECK(trigger(R"("translation": [1e300, 0, 0])").find("farther than 10,000 km") !=
          std::string::npos);
    CHECK(trigger(R"("scale": [1e200, 1, 1], "translation": [1, 2, 3])")
              .find("farther than 10,000 km") != std::string::npos);
    CHECK(trigger(R"("translation": [1, 2])").find("numbers that are not finite") !=
          std::string::npos);
}

TEST_CASE("gltf: meshes without bounds, and with values beside the others") {
    const auto mesh = [](const std::string& accessor) {
        return look_at(with_parts(
                           R"("meshes": [{"primitives": [{"attributes": {"POSITION": 0}}]}],
               "accessors": [)" +
                           accessor +
                           R"(], "nodes": [{"mesh": 0, "name": "n",
                  "extras": {"hestrel": "trigger", "name": "t"}}])"))
            .errors;
    };
    const std::string head = R"({"componentType": 5126, "count": 3, "type": "VEC3")";
    CHECK(mesh(head + "}") ==
          Lines{"maps/world.gltf: error: node 0 \"n\": its mesh says no bounds (`min` and `max` of "
                "its positions)"});
    CHECK(mesh(head + R"(, "min": [0, 0], "max": [1, 1]})").size() == 1);
    CHECK(mesh(head + R"(, "min": [2, 0, 0], "max": [1, 1, 1]})").size() == 1);
    CHECK(mesh(head + R"(, "min": [0, 0, 0], "max": [1, 1, 1], "sparse": {"count": 1, "indices":
                {"bufferView": 0, "componentType": 5123}, "values": {"bufferView": 0}}})")
              .empty());
}

TEST_CASE("gltf: cut off at any byte, as text and as bytes, it is one error or none") {
    const plan::Plan plan = source::PlanReading(tests::read_text(tests::RandomMap(3).text())).plan;
    const std::string text = exchange::gltf_json(plan, {});
    const std::string bytes = binary_of(text, std::string(64, '\1'));
    for (std::size_t size = 0; size < text.size(); size += 1 + size / 40) {
        CAPTURE(size);
        const Looked looked = look_at(text.substr(0, size));
        REQUIRE(looked.errors.size() == 1);
        CHECK(looked.errors.front().find("maps/world.gltf") == 0);
    }
    for (std::size_t size = 0; size < bytes.size(); size += 1 + size / 40) {
        CAPTURE(size);
        CHECK(look_at(bytes.substr(0, size), "maps/world.glb").errors.size() == 1);
    }
    CHECK(look_at(text).errors.empty());
    CHECK(look_at(bytes, "maps/world.glb").errors.empty());
}

TEST_CASE("gltf: other files are none") {
    CHECK(error_of("").find("cut off") != std::string::npos);
    CHECK(error_of("[]") == "maps/world.gltf:1:1: error: this is no glTF: no object of JSON");
    CHECK(error_of("hestrel: 1\n") ==
          "maps/world.gltf:1:1: error: this is no JSON: something else is expected here");
    CHECK(error_of(R"({"asset": {"version": "1.0"}})") ==
          "maps/world.gltf: error: this is version 1.0 of glTF, not 2");
    CHECK(error_of("{}") ==
          "maps/world.gltf: error: this is no glTF: it does not say which version");
    CHECK(error_of(std::string(200'000, '[') + std::string(200'000, ']')).find("too deep") !=
          std::string::npos);
    std::string old = binary_of("{}");
    old[4] = 1;
    CHECK(look_at(old, "maps/world.glb").errors ==
          Lines{"maps/world.glb: error: this is version 1 of glTF, not 2"});
}
