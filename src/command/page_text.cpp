#include "command/page_text.hpp"

#include "command/terminal.hpp"
#include "source/lines.hpp"

#include <algorithm>
#include <vector>

namespace hestrel::command {

namespace {

constexpr std::string_view page_ending = ".md";

bool is_fence(std::string_view line) {
    return line.starts_with("```");
}
bool is_row(std::string_view line) {
    return line.starts_with("|");
}
/// Where the text of an item of a list begins; 0 where a line begins none.
std::size_t after_bullet(std::string_view line) {
    const std::size_t from = std::min(line.find_first_not_of(' '), line.size());
    if (line.substr(from).starts_with("- ")) return from + 2;
    const std::size_t digits = line.find_first_not_of("0123456789", from);
    if (digits == std::string_view::npos || digits == from) return 0;
    return line.substr(digits).starts_with(". ") ? digits + 2 : 0;
}

/// A link's text, and behind it the topic that it leads to, unless the text is that.
std::string link_text(std::string_view text, std::string_view target) {
    std::string said(text);
    const std::size_t page = target.find(page_ending);
    if (page == std::string_view::npos || target.find("://") != std::string_view::npos) return said;
    const std::string topic = topic_of(target);
    return said == topic ? said : said + " (" + topic + ")";
}

/// A line without marks for bold text, links, anchors and escapes; what is code stays as it is.
std::string plain(std::string_view line) {
    std::string text;
    for (std::size_t i = 0; i < line.size(); ++i) {
        const std::string_view rest = line.substr(i);
        if (rest.front() == '`') {
            const std::size_t end = std::min(line.find('`', i + 1), line.size() - 1);
            text += line.substr(i, end - i + 1);
            i = end;
        } else if (rest.starts_with("**")) {
            ++i;
        } else if (rest.starts_with("<a ")) {
            i = std::min(line.find("</a>", i) + 3, line.size() - 1);
        } else if (rest.front() == '\\' && rest.size() > 1) {
            text += line[++i];
        } else if (rest.front() == '[') {
            const std::size_t middle = rest.find("](");
            const std::size_t end = rest.find(')', middle);
            if (middle == std::string_view::npos || end == std::string_view::npos) {
                text += '[';
                continue;
            }
            text += link_text(plain(rest.substr(1, middle - 1)),
                              rest.substr(middle + 2, end - middle - 2));
            i += end;
        } else {
            text += rest.front();
        }
    }
    return text;
}

/// The cells of a row of a table; `\|` is no border.
std::vector<std::string> cells_of(std::string_view row) {
    std::vector<std::string> cells;
    std::string cell;
    for (std::size_t i = 1; i < row.size(); ++i) {
        if (row[i] == '|' && row[i - 1] != '\\') {
            const std::size_t from = std::min(cell.find_first_not_of(' '), cell.size());
            cell = plain(cell.substr(from));
            while (cell.ends_with(' ')) cell.pop_back();
            cells.push_back(cell);
            cell.clear();
        } else {
            cell += row[i];
        }
    }
    return cells;
}

std::string indented(const std::string& text, std::string_view first, std::string_view rest) {
    const std::string lines = wrapped(text, text_columns, rest);
    return std::string(first) + lines.substr(rest.size());
}

/// What is said of each first cell: with two columns in a line, with more each under its heading.
std::string table_text(const std::vector<std::string_view>& rows) {
    const std::vector<std::string> heads = cells_of(rows.front());
    std::string text;
    for (std::size_t i = 2; i < rows.size(); ++i) { // the second is a rule
        const std::vector<std::string> cells = cells_of(rows[i]);
        text += indented(cells.front(), "  ", "    ");
        for (std::size_t k = 1; k < cells.size(); ++k) {
            if (cells[k].empty()) continue;
            const std::string head = heads.size() > 2 ? heads.at(k) + ": " : "";
            text += wrapped(head + cells[k], text_columns, "      ");
        }
    }
    return text;
}

std::string heading(std::string_view line) {
    const std::size_t level = line.find_first_not_of('#');
    const std::string said = plain(line.substr(level + 1));
    if (level > 2) return said + "\n";
    return said + "\n" + std::string(cells(said), level == 1 ? '=' : '-') + "\n";
}

/// The lines of a page, taken off one by one.
class Page {
public:
    explicit Page(std::string_view markdown) : lines_(source::lines_of(markdown)) {}

    [[nodiscard]] bool more() const { return at_ < lines_.size(); }
    [[nodiscard]] std::string_view next() const { return lines_[at_]; }
    std::string_view take() { return lines_[at_++]; }
    /// Lines as long as they are such.
    template <class Such>
    std::vector<std::string_view> take_while(Such&& such) {
        std::vector<std::string_view> taken;
        while (more() && such(next())) taken.push_back(take());
        return taken;
    }

private:
    std::vector<std::string_view> lines_;
    std::size_t at_ = 0;
};

bool goes_on(std::string_view line) {
    return !line.empty() && !is_fence(line) && !is_row(line) && line.front() != '#' &&
           after_bullet(line) == 0;
}

/// A paragraph or an item of a list, from its first line on.
std::string paragraph(Page& page) {
    const std::string_view line = page.take();
    const std::size_t bullet = after_bullet(line);
    std::string text(line.substr(bullet));
    for (const std::string_view more : page.take_while(goes_on))
        text += " " + std::string(more.substr(std::min(more.find_first_not_of(' '), more.size())));
    return indented(plain(text), line.substr(0, bullet), std::string(bullet, ' '));
}

} // namespace

std::string topic_of(std::string_view path) {
    path = path.substr(0, path.find(page_ending));
    const std::size_t folder = path.rfind('/');
    return std::string(folder == std::string_view::npos ? path : path.substr(folder + 1));
}

std::string page_text(std::string_view markdown) {
    std::string text;
    Page page(markdown);
    while (page.more()) {
        const std::string_view line = page.next();
        if (is_fence(line)) {
            page.take();
            for (const std::string_view code :
                 page.take_while([](std::string_view each) { return !is_fence(each); }))
                text += code.empty() ? "\n" : "    " + std::string(code) + "\n";
            if (page.more()) page.take();
        } else if (line.starts_with("#")) {
            text += heading(page.take());
        } else if (is_row(line)) {
            text += table_text(page.take_while(is_row));
        } else if (line.empty() || line.starts_with("    ")) {
            text += std::string(page.take()) + "\n";
        } else if (line.starts_with("![")) { // a picture
            page.take();
            if (page.more() && page.next().empty()) page.take();
        } else {
            text += paragraph(page);
        }
    }
    return text;
}

} // namespace hestrel::command
