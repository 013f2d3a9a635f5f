// Parts of the server by themselves: messages, positions, addresses, where the cursor is.

#include "serve/cursor.hpp"
#include "serve/document.hpp"
#include "serve/edits.hpp"
#include "serve/messages.hpp"
#include "source/addresses.hpp"
#include "source/expected.hpp"
#include "source/source_text.hpp"
#include "support/dice.hpp"
#include "support/program.hpp"

#include <catch2/catch.hpp>

using namespace hestrel;

namespace {

/// "levels.quay.kits.1", of a key "levels.quay KEY"; empty where nothing is there. The cursor is
/// where `|` stands.
std::string path_at(const std::string& marked) {
    const std::size_t at = marked.find('|');
    const auto cursor = serve::cursor_at(marked.substr(0, at) + marked.substr(at + 1), at);
    if (!cursor) return {};
    return fmt::format("{}{}", fmt::join(cursor->path, "."), cursor->is_key ? " KEY" : "");
}

/// The example's files.
std::vector<std::string> example_files() {
    std::vector<std::string> texts;
    for (const char* name : {"glasswater", "front-end", "interiors", "coast", "heights", "routes"})
        texts.push_back(
            tests::contents(fmt::format("{}/examples/glasswater/{}.yaml", HESTREL_SOURCE, name)));
    return texts;
}

/// Calls `each(path, is a key, its byte)` for every scalar of a text.
void for_scalars(
    const std::string& text,
    const std::function<void(const std::vector<std::string>&, bool, const source::Value&)>& each) {
    const source::YamlTree tree(text, 0);
    std::vector<std::string> path;
    const std::function<void(const source::Value&)> look = [&](const source::Value& value) {
        if (value.is_alias()) return;
        if (value.is_scalar()) each(path, false, value);
        std::size_t number = 0;
        for (const source::Value& element : value.elements()) {
            path.push_back(std::to_string(number++));
            look(element);
            path.pop_back();
        }
        for (const auto& [key, inner] : value.written_entries()) {
            each(path, true, key);
            path.emplace_back(key.text());
            look(inner);
            path.pop_back();
        }
    };
    look(tree.root());
}

} // namespace

TEST_CASE("messages are told apart, however they come in") {
    const std::string one = serve::framed(serve::text_of({{"id", 1}}));
    CHECK(one == "Content-Length: 8\r\n\r\n{\"id\":1}");
    const std::string all = one + "content-type: x\r\nCONTENT-LENGTH:  2\r\n\r\n{}" + one;
    for (std::size_t piece = 1; piece <= all.size(); ++piece) {
        serve::MessageReader reader;
        std::vector<std::string> read;
        for (std::size_t at = 0; at < all.size(); at += piece) {
            reader.add(std::string_view(all).substr(at, piece));
            while (auto message = reader.next()) read.push_back(*message);
        }
        CHECK(read == std::vector<std::string>{"{\"id\":1}", "{}", "{\"id\":1}"});
        CHECK_FALSE(reader.has_rest());
    }
    for (const std::string& broken :
         {std::string("Content-Length: -1\r\n\r\n"), std::string("Content-Length: 1e3\r\n\r\n"),
          std::string("Content-Length: 99999999999999999999\r\n\r\n"), std::string("X: 1\r\n\r\n"),
          std::string("nothing\r\n\r\n"), std::string(5000, 'x')}) {
        serve::MessageReader reader;
        reader.add(broken);
        CHECK_THROWS_AS(reader.next(), serve::ProtocolError);
    }
}

TEST_CASE("positions count UTF-16 units, and every way to end a line") {
    // ä is two bytes and one unit, 𝄞 four bytes and two units.
    const serve::Document document("aäb\r\n𝄞x\ry\n");
    const auto at = [&](std::size_t line, std::size_t character) {
        return document.offset_of({line, character});
    };
    CHECK(at(0, 1) == 1);
    CHECK(at(0, 2) == 3);
    CHECK(at(0, 3) == 4);
    CHECK(at(0, 9) == 4); // no farther than its line
    CHECK(at(1, 0) == 6);
    CHECK(at(1, 2) == 10);
    CHECK(at(1, 3) == 11);
    CHECK(at(2, 0) == 12);
    CHECK(at(3, 0) == 14);
    CHECK(at(9, 0) == 14);
    for (const std::size_t offset : {0U, 1U, 3U, 4U, 6U, 10U, 11U, 12U, 13U, 14U}) {
        const serve::Position position = document.position_of(offset);
        CHECK(at(position.line, position.character) == offset);
    }
}

TEST_CASE("addresses of files and their paths") {
    CHECK(source::address_of_path("/a b/ü.yaml") == "file:///a%20b/%C3%BC.yaml");
    CHECK(source::path_of_address("file:///a%20b/%C3%BC.yaml") == "/a b/ü.yaml");
    CHECK(source::path_of_address("file://localhost/x") == "/x");
    for (const char* other :
         {"untitled:1", "https://a/b", "file://host/x", "file:///%00", "file:///%4", "file:x"})
        CHECK_FALSE(source::path_of_address(other));
    tests::Dice dice(3);
    for (int i = 0; i < 200; ++i) {
        std::string path = "/";
        for (int length = dice.below(13); length > 0; --length)
            path += static_cast<char>(1 + dice.below(255));
        CHECK(source::path_of_address(source::address_of_path(path)) == path);
    }
}

TEST_CASE("what is being typed has a path, though it is no YAML yet") {
    CHECK(path_at("lev|") == ""); // a scalar at the top: it has no path
    CHECK(path_at("hestrel: 1\nlev|\n") == " KEY");
    CHECK(path_at("levels:\n  quay:\n    kits: [a, b|") == "levels.quay.kits.1");
    CHECK(path_at("levels:\n  quay:\n    title: x\n    ki|\n    memory: {}\n") ==
          "levels.quay KEY");
    CHECK(path_at("levels:\n  quay: {title: x, ki|}\n") == "levels.quay KEY");
    CHECK(path_at("levels:\n  quay:\n    |") == "levels.quay");
    CHECK(path_at("triggers:\n  a:\n    steps:\n      - switch: {to: quay, at: |") ==
          "triggers.a.steps.0.switch.at");
    CHECK(path_at("triggers:\n  a:\n    steps:\n      - |") == "triggers.a.steps.0");
    CHECK(path_at("triggers:\n  a:\n    when: has_pass and sho|\n") == "triggers.a.when");
    CHECK(path_at("triggers:\n  a:\n    when: \"shown(qu|\n") == "triggers.a.when");
    CHECK(path_at("a: [x, {y: [z, 'w]'], v: |}]\n") == "a.1.v");
    CHECK(path_at("a: don't [stop\nb: |") == "b");
    CHECK(path_at("a: 1 # not he|re\n") == "");
    CHECK(path_at("a: [1\n  b: [|") == ""); // what stands before is broken
    const auto cursor = serve::cursor_at("a: {to: quay, at: x, with: [y, ", 31);
    REQUIRE(cursor);
    CHECK(cursor->beside.at(0) == std::pair<std::string, std::string>("to", "quay"));
}

TEST_CASE("the cursor in any key or value of the example has that one's path") {
    std::size_t met = 0;
    std::size_t looked = 0;
    for (const std::string& text : example_files()) {
        const source::SourceText lines(text);
        const source::YamlTree tree(text, 0);
        for_scalars(text, [&](const std::vector<std::string>& path, bool is_key,
                              const source::Value& value) {
            const std::size_t from = *lines.offset_of(value.start());
            if (value.text().empty() || !value.is_plain() || text[from] == '&') return;
            if (++met % 7 != 0) return; // some of each kind will do
            CAPTURE(text.substr(from, 20), path);
            // Behind its first letter: what follows is as if it had not been typed yet.
            const auto cursor = serve::cursor_at(text, from + 1);
            REQUIRE(cursor);
            CHECK(cursor->path == path);
            const auto covered = serve::covered_at(tree, lines, from);
            REQUIRE(covered);
            CHECK(covered->is_key == is_key);
            std::vector<std::string> whole = path;
            if (is_key) whole.emplace_back(value.text());
            CHECK(covered->path == whole);
            ++looked;
        });
    }
    CHECK(looked > 300);
}

TEST_CASE("the table of keys knows what every part of the example is") {
    std::size_t keys = 0;
    for (const std::string& text : example_files()) {
        for_scalars(text, [&](const std::vector<std::string>& path, bool is_key,
                              const source::Value& value) {
            CAPTURE(path, value.text());
            const auto expected = source::expected_at(path);
            REQUIRE(expected);
            if (!is_key || expected->object() == nullptr) return;
            const auto inside = expected->inside(value.text());
            if (value.text() == "<<") return;
            REQUIRE(inside);
            CHECK(inside->key()->name == value.text());
            ++keys;
        });
    }
    CHECK(keys > 900);
}

TEST_CASE("what a name can mean is known wherever one can stand") {
    using source::Takes;
    for (const source::ObjectKeys* object : source::keys::all()) {
        for (const source::Key& key : object->keys) {
            CAPTURE(object->id, key.name);
            const bool names = key.takes == Takes::name || key.takes == Takes::name_list ||
                               key.takes == Takes::dotted_name ||
                               key.takes == Takes::names_by_name || key.takes == Takes::levels ||
                               key.takes == Takes::level_or_position ||
                               key.takes == Takes::word_or_names || key.takes == Takes::list_use ||
                               key.takes == Takes::groups || key.takes == Takes::paths ||
                               key.takes == Takes::parcels || key.takes == Takes::values_by_name ||
                               key.takes == Takes::memory_by_name ||
                               key.takes == Takes::ranges_by_name || key.takes == Takes::by_device;
            if (names) CHECK_FALSE(key.names.empty());
        }
    }
    const auto names_at = [](const std::vector<std::string>& path) {
        const auto expected = source::expected_at(path);
        REQUIRE(expected);
        return std::vector<std::string>(expected->names().begin(), expected->names().end());
    };
    using Names = std::vector<std::string>;
    CHECK(names_at({"levels", "a", "kits"}) == Names{"kit"});
    CHECK(names_at({"levels", "a", "sublevels", "b", "kits", "0"}) == Names{"kit"});
    CHECK(names_at({"paths", "0", "1"}) == Names{"waypoint"});
    CHECK(names_at({"paths", "0", "gate"}) == Names{"gate"});
    CHECK(names_at({"groups", "g", "0"}) == Names{"level"});
    CHECK(names_at({"groups", "g", "levels", "0"}) == Names{"level"});
    CHECK(names_at({"levels", "a", "entries", "e"}) == Names{"waypoint"});
    CHECK(names_at({"editions", "e", "parcels", "0", "p", "1"}) == Names{"level"});
    CHECK(names_at({"triggers", "t", "steps", "0", "choose", "b", "0", "load", "0"}) ==
          Names{"level", "group"});
    CHECK(names_at({"triggers", "t", "steps", "0", "load", "by"}) == Names{"fact"});
    CHECK(names_at({"triggers", "t", "steps", "0", "switch", "to"}) == Names{"level"});
    CHECK(names_at({"triggers", "t", "box"}).empty());
    CHECK_FALSE(source::expected_at({"triggers", "t", "nonsense"}));
    CHECK_FALSE(source::expected_at({"levels", "a", "b", "c"}));
    const auto keys_at = [](const std::vector<std::string>& path) {
        const auto expected = source::expected_at(path);
        REQUIRE(expected);
        return std::vector<std::string>(expected->named_keys().begin(),
                                        expected->named_keys().end());
    };
    CHECK(keys_at({"levels", "a", "on"}) == Names{"device"});
    CHECK(keys_at({"levels", "a", "on", "d"}).empty());
    CHECK(keys_at({"levels", "a", "on", "d", "memory"}) == Names{"pool"});
    CHECK(keys_at({"levels", "a", "allow"}) == Names{"finding"});
    CHECK(keys_at({"routes", "r", "start", "facts"}) == Names{"fact"});
}

TEST_CASE("the difference of two texts makes one of the other, and cuts no character") {
    tests::Dice dice(5);
    const std::vector<std::string> letters{"a", "b", "ä", "ü", "𝄞", "\n"};
    const auto text = [&] {
        std::string all;
        for (int i = dice.below(13); i > 0; --i)
            all += letters[static_cast<std::size_t>(dice.below(6))];
        return all;
    };
    for (int i = 0; i < 500; ++i) {
        const std::string before = text();
        const std::string after = text();
        const serve::Change change = serve::difference("/x", before, after);
        // As an editor does it: by positions.
        serve::Document document(before);
        const serve::Position from = document.position_of(change.stretch.from);
        const serve::Position to = document.position_of(change.stretch.to);
        document.replace({document.offset_of(from), document.offset_of(to)}, change.by);
        CHECK(document.text() == after);
    }
}
