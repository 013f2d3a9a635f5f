// Characters and bytes: what is UTF-8, what a terminal may get, what XML has a place for.

#include "source/utf8.hpp"

#include "figure/gnuplot.hpp"
#include "source/csv_reader.hpp"
#include "source/dot.hpp"
#include "source/xml.hpp"
#include "support/dice.hpp"
#include "support/printing.hpp"
#include "tables/csv.hpp"
#include "tables/table.hpp"

using namespace hestrel;
using source::character_at;
using source::visible;

TEST_CASE("UTF-8: characters of one to four bytes; what is too long, cut off or a half is none") {
    CHECK(character_at("a", 0).code == U'a');
    CHECK(character_at("\xC3\xBC", 0).code == 0xFC);
    CHECK(character_at("\xE2\x82\xAC", 0).code == 0x20AC);
    CHECK(character_at("\xF4\x8F\xBF\xBF", 0).code == 0x10FFFF);
    CHECK(character_at("\xF4\x8F\xBF\xBF", 0).bytes == 4);
    for (const std::string_view none :
         {"\x80", "\xC0\xAF", "\xE0\x80\xAF", "\xED\xA0\x80", "\xF4\x90\x80\x80", "\xE2\x82",
          "\xC3", "\xFF", "\xC3(", "\xF0\x80\x80\xAF"})
        CHECK(character_at(none, 0).bytes == 0);
}

TEST_CASE("UTF-8: a text is shortened between characters") {
    CHECK(source::shortened("l\xC3\xA4uft", 2) == "l");
    CHECK(source::shortened("l\xC3\xA4uft", 3) == "l\xC3\xA4");
    CHECK(source::shortened("short", 9) == "short");
}

TEST_CASE("a terminal gets nothing that it would act on; what people read stays") {
    CHECK(visible("Großer Saal\tnord\n") == "Großer Saal\tnord\n");
    CHECK(visible("\x1B]0;title\x07") == "\\x1b]0;title\\x07");
    CHECK(visible("\x7F\xC2\x9B"
                  "31m") == "\\x7f\\u009b31m");
    CHECK(visible("a\rb\r\n") == "a\\x0db\r\n");
    CHECK(visible("quay\xE2\x80\xAE"
                  "gpj") == "quay\\u202egpj");
    CHECK(visible("\xFFok\xC3") == "\\xffok\\xc3");
    CHECK(visible(std::string("a\0b", 3)) == "a\\x00b");
}

TEST_CASE(
    "UTF-8: whatever the bytes, what is shown and written is UTF-8, and fine text is itself") {
    tests::Dice dice(7);
    for (int turn = 0; turn < 2000; ++turn) {
        std::string bytes;
        for (int i = dice.below(12); i > 0; --i) bytes += static_cast<char>(dice.below(256));
        for (const std::string& text : {visible(bytes), source::xml_text(bytes)}) {
            CAPTURE(bytes, text);
            for (std::size_t at = 0; at < text.size(); at += character_at(text, at).bytes)
                REQUIRE(character_at(text, at).bytes > 0);
        }
    }
}

TEST_CASE("XML: what it has no place for is a blank") {
    CHECK(source::xml_text("a]]>b\xEF\xBF\xBF\xEF\xBF\xBE") == "a]]&gt;b  ");
    CHECK(source::xml_text("\x01\xFF\xC2\x85z") == "   z");
}

TEST_CASE("XML: texts in figures have no place for it either") {
    CHECK(figure::gnuplot_string("a\xEF\xBF\xBF\nb'\xFF") == "'a  b'' '");
    CHECK(source::dot_string("a\x01\nb\xEF\xBF\xBE", source::Lines::left) == "\"a \\lb \"");
}

TEST_CASE("CSV: what a spreadsheet would calculate gets an apostrophe, and loses it when read") {
    const auto written = [](std::string_view cell) {
        tables::Csv csv;
        csv.add(cell).end_row();
        return csv.take();
    };
    CHECK(written("=1+1") == "'=1+1\r\n");
    CHECK(written("@SUM(A1)") == "'@SUM(A1)\r\n");
    CHECK(written("-quay") == "'-quay\r\n");
    CHECK(written("\tquay") == "'\tquay\r\n");
    CHECK(written("-1.5") == "-1.5\r\n");
    CHECK(written("+3e2") == "+3e2\r\n");
    CHECK(written("-inf") == "'-inf\r\n");
    CHECK(written("quay") == "quay\r\n");
    tests::Dice dice(11);
    constexpr std::string_view signs = "'=+-@\t\r\n,\"1.x";
    for (int turn = 0; turn < 2000; ++turn) {
        std::string cell;
        for (int i = dice.below(6); i > 0; --i)
            cell += signs[static_cast<std::size_t>(dice.below(static_cast<int>(signs.size())))];
        const std::string csv = written(cell);
        CAPTURE(cell, csv);
        if (!cell.empty()) CHECK(std::string_view("=@\t\r").find(csv.front()) == std::string::npos);
        std::size_t at = 0;
        plan::Place place{0, 1, 1};
        const auto cells = source::next_record(csv, at, place);
        REQUIRE(cells.size() == 1);
        CHECK(cells.front().text == cell);
    }
}

TEST_CASE("Markdown: no link, picture or reference comes of what a plan says") {
    CHECK(tables::markdown_cell("![x](http://a.b)") == "!\\[x\\](http\\://a.b)");
    CHECK(tables::markdown_cell("www.example.org & <b>") == "www\\.example.org \\& \\<b\\>");
    CHECK(tables::markdown_cell("\x1B[2J") == "\\x1b\\[2J");
}
