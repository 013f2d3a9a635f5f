// Every command that a page of docs/ or the README shows is run, with the files that the page
// gives, and has to print what the page says. With HESTREL_WRITE_PAGES=1 in the environment what
// does not fit is written into the pages instead.

#include "docs/page.hpp"

#include "command/commands.hpp"
#include "plan/finding_kinds.hpp"
#include "source/yaml_tree.hpp"
#include "tables/text_table.hpp"

#include <cstdlib>
#include <optional>
#include <regex>

using namespace hestrel;
using namespace hestrel::tests;

namespace {

const std::string tree = HESTREL_SOURCE;

/// README.md and all below docs/, sorted.
std::vector<std::string> all_pages() {
    std::vector<std::string> pages{"README.md", "CONTRIBUTING.md"};
    for (const auto& entry : std::filesystem::recursive_directory_iterator(tree + "/docs")) {
        if (entry.path().extension() == ".md")
            pages.push_back(std::filesystem::relative(entry.path(), tree).string());
    }
    std::sort(pages.begin(), pages.end());
    return pages;
}

/// A folder with the example plan in it, and a shell in which `hestrel` is the program.
struct Desk {
    Desk() {
        std::filesystem::copy(tree + "/examples/glasswater", folder.path() + "/desk",
                              std::filesystem::copy_options::recursive);
        folder.write("bin/hestrel", fmt::format("#!/bin/sh\nexec {} \"$@\"\n", HESTREL_PROGRAM));
        (void)run(folder, "chmod +x bin/hestrel");
    }
    [[nodiscard]] std::vector<std::string> printed_by(const std::string& command) const {
        folder.write("command", command);
        return lines_in(
            run(folder, "cd desk; PATH=TMP/bin:$PATH COLUMNS=100 sh ../command 2>&1").out);
    }

    Folder folder;
};

std::string as_text(const std::vector<std::string>& lines) {
    std::string text;
    for (const std::string& line : lines) text += line + "\n";
    return text;
}

/// Runs the commands of a page; the page as it would be right.
std::string page_run(const std::string& name) {
    std::string page = contents(tree + "/" + name);
    const std::vector<Block> blocks = blocks_of(page);
    std::string right = page;
    std::optional<Desk> desk;
    std::ptrdiff_t moved = 0;
    for (const Block& block : blocks) {
        const std::string text = page.substr(block.from, block.size);
        if (block.file.empty() && block.language != "console") continue;
        if (!desk) desk.emplace();
        if (!block.file.empty()) {
            desk->folder.write("desk/" + block.file, text);
            continue;
        }
        std::string anew;
        for (const Shown& shown : shown_in(text)) {
            const std::vector<std::string> printed = desk->printed_by(shown.command);
            const bool same = fits(shown.output, printed);
            if (!same) {
                UNSCOPED_INFO(name << ":" << block.line << ": $ " << shown.command << "\n"
                                   << as_text(printed));
            }
            anew += "$ " + shown.command + "\n" + as_text(same ? shown.output : printed);
        }
        if (anew == text) continue;
        right.replace(static_cast<std::size_t>(static_cast<std::ptrdiff_t>(block.from) + moved),
                      block.size, anew);
        moved +=
            static_cast<std::ptrdiff_t>(anew.size()) - static_cast<std::ptrdiff_t>(text.size());
    }
    return right;
}

} // namespace

TEST_CASE("pages: every command prints what its page says", "[program]") {
    for (const std::string& name : all_pages()) {
        DYNAMIC_SECTION(name) {
            const std::string right = page_run(name);
            if (std::getenv("HESTREL_WRITE_PAGES") != nullptr) {
                std::ofstream(tree + "/" + name, std::ios::binary) << right;
                return;
            }
            CHECK(right == contents(tree + "/" + name));
        }
    }
}

TEST_CASE("pages: every command and option that is named anywhere is one of the program's") {
    // Those in blocks without output, and in the midst of a sentence, too.
    const std::regex line_goes_on(R"(\\\n *)");
    const std::regex call(R"(\bhestrel(?:-mpi)? ([a-z][a-z-]*)([^`|;>#\n]*))");
    const std::regex option(R"( --([a-z][a-z-]*))");
    const std::set<std::string> everywhere{"quiet", "jobs", "no-figures"};
    std::size_t calls = 0;
    for (const std::string& name : all_pages()) {
        INFO(name);
        const std::string page = std::regex_replace(contents(tree + "/" + name), line_goes_on, " ");
        for (auto each = std::sregex_iterator(page.begin(), page.end(), call);
             each != std::sregex_iterator(); ++each) {
            INFO(each->str());
            const auto& all = command::commands();
            const auto command = std::find_if(all.begin(), all.end(), [&](const auto& known) {
                return known.name == each->str(1);
            });
            REQUIRE(command != all.end());
            const std::string rest = each->str(2);
            for (auto said = std::sregex_iterator(rest.begin(), rest.end(), option);
                 said != std::sregex_iterator(); ++said)
                CHECK((everywhere.contains(said->str(1)) ||
                       command->options.find_nothrow(said->str(1), false) != nullptr));
            ++calls;
        }
    }
    CHECK(calls > 200);
}

TEST_CASE("pages: every link leads to something that is there") {
    const std::regex link(R"(\]\(([^)#\s]+)(#[^)]*)?\))");
    for (const std::string& name : all_pages()) {
        const std::string page = contents(tree + "/" + name);
        const auto folder = std::filesystem::path(tree + "/" + name).parent_path();
        for (std::sregex_iterator at(page.begin(), page.end(), link), end; at != end; ++at) {
            const std::string target = (*at)[1];
            INFO(name << " leads to " << target);
            if (target.find("://") == std::string::npos)
                CHECK(std::filesystem::exists(folder / target));
        }
    }
}

TEST_CASE("pages: the list of pages has each page once, in the order of a recipe's work") {
    const std::string list = contents(tree + "/docs/README.md");
    for (const std::string& name : all_pages()) {
        if (!name.starts_with("docs/") || name == "docs/README.md") continue;
        const std::string link = "(" + name.substr(5) + ")";
        INFO(name);
        CHECK(list.find(link) != std::string::npos);
        CHECK(list.find(link) == list.rfind(link));
    }
}

TEST_CASE("pages: prose has one width, 100 columns") {
    for (const std::string& name : all_pages()) {
        bool code = false;
        std::size_t number = 0;
        for (const std::string& line : lines_in(contents(tree + "/" + name))) {
            ++number;
            if (line.starts_with("```")) code = !code;
            // A table, a picture, an example, and what has no blank to break at can be longer.
            const bool is_prose = !code && line.find(' ') != std::string::npos &&
                                  !line.starts_with("|") && !line.starts_with("![") &&
                                  !line.starts_with("    ") && !line.starts_with("`");
            INFO(name << ":" << number << ": " << line);
            if (is_prose) CHECK(tables::cells(line) <= 100);
        }
    }
}

TEST_CASE("pages: each recipe's plan is checked, walked and explored") {
    std::size_t recipes = 0;
    const std::string list = contents(tree + "/docs/README.md");
    const std::size_t from = list.find("Recipes, each with a plan");
    const std::size_t to = list.find("At work:");
    const std::regex link(R"(\(guide/([a-z-]+)\.md\))");
    const std::string part = list.substr(from, to - from);
    for (std::sregex_iterator at(part.begin(), part.end(), link), end; at != end; ++at) {
        const std::string name = (*at)[1];
        const std::string page = contents(tree + "/docs/guide/" + name + ".md");
        INFO(name);
        CHECK(page.find("```yaml " + name + ".yaml\n") != std::string::npos);
        for (const char* command : {"check", "walk", "explore"})
            CHECK(page.find(fmt::format("$ hestrel {} {}.yaml", command, name)) !=
                  std::string::npos);
        ++recipes;
    }
    CHECK(recipes == 12);
}

TEST_CASE("pages: every piece of YAML can be read") {
    const auto can_be_read = [](const std::string& where, const std::string& yaml) {
        INFO(where << ":\n" << yaml);
        CHECK_NOTHROW(source::YamlTree(yaml, 0));
    };
    std::size_t pieces = 0;
    for (const std::string& name : all_pages()) {
        const std::string page = contents(tree + "/" + name);
        for (const Block& block : blocks_of(page)) {
            if (block.language != "yaml") continue;
            can_be_read(fmt::format("{}:{}", name, block.line),
                        page.substr(block.from, block.size));
            ++pieces;
        }
    }
    CHECK(pieces > 20);
    // The examples of findings are indented, a paragraph each.
    std::string example;
    std::size_t examples = 0;
    for (const std::string& line : lines_in(contents(tree + "/docs/findings.md"))) {
        if (line.starts_with("    ")) {
            example += line.substr(4) + "\n";
        } else if (!example.empty()) {
            can_be_read("docs/findings.md", example);
            example.clear();
            ++examples;
        }
    }
    CHECK(examples > 80);
}

TEST_CASE("pages: exit codes mean what the program says") {
    const std::string page = contents(tree + "/docs/commands/options.md");
    for (const command::ExitCode& each : command::exit_codes)
        CHECK(page.find(fmt::format("\n| {} | {}", each.code, each.meaning)) != std::string::npos);
}

TEST_CASE("pages: what is said to help is said of findings that there are") {
    const std::string page = contents(tree + "/docs/guide/acting-on-findings.md");
    const std::size_t from = page.find("| what you see");
    const std::string table = page.substr(from, page.find("\n\n", from) - from);
    const std::regex row(R"(\n\|[^|]*\|([^|]*)\|)");
    const std::regex name(R"(`([a-z-]+)`)");
    std::size_t named = 0;
    for (std::sregex_iterator at(table.begin(), table.end(), row), end; at != end; ++at) {
        const std::string cell = (*at)[1];
        for (std::sregex_iterator each(cell.begin(), cell.end(), name); each != end; ++each) {
            const std::string finding = (*each)[1];
            INFO(finding);
            CHECK(plan::find_kind(finding) != nullptr);
            ++named;
        }
    }
    CHECK(named > 20);
}

TEST_CASE("pages: output that differs is seen, and what is left out is not") {
    CHECK(fits({"a", "b"}, {"a", "b"}));
    CHECK_FALSE(fits({"a"}, {"a", "b"}));
    CHECK_FALSE(fits({"a", "b"}, {"a"}));
    CHECK(fits({"a", "…", "d"}, {"a", "b", "c", "d"}));
    CHECK(fits({"…"}, {}));
    CHECK_FALSE(fits({"…", "d"}, {"a", "b"}));
    const std::string page =
        "text\n```console\n$ one \\\n  two\nout\n$ three\n```\n```yaml x.yaml\na: 1\n```\n";
    const auto blocks = blocks_of(page);
    REQUIRE(blocks.size() == 2);
    CHECK(blocks[1].file == "x.yaml");
    CHECK(page.substr(blocks[1].from, blocks[1].size) == "a: 1\n");
    const auto shown = shown_in(page.substr(blocks[0].from, blocks[0].size));
    REQUIRE(shown.size() == 2);
    CHECK(shown[0].command == "one \\\n  two");
    CHECK(shown[0].output == std::vector<std::string>{"out"});
    CHECK(shown[1].output.empty());
}
