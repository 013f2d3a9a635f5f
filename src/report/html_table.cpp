#include "report/html_table.hpp"

#include "figure/svg.hpp"
#include "source/xml.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::report {

using source::xml_text;

bool HtmlTable::begins_group(std::size_t column) const {
    const std::string& group = columns_[column].group;
    return !group.empty() && (column == 0 || columns_[column - 1].group != group);
}

std::string HtmlTable::head() const {
    const bool grouped = std::any_of(columns_.begin(), columns_.end(),
                                     [](const Column& column) { return !column.group.empty(); });
    const auto title = [&](std::size_t i, bool tall) {
        const Column& column = columns_[i];
        return fmt::format("<th scope=\"col\" data-column=\"{}\"{} class=\"{}{}\">{}</th>", i,
                           tall ? " rowspan=\"2\"" : "", column.number ? "number" : "",
                           begins_group(i) ? " first" : "", xml_text(column.title));
    };
    std::string first = "<tr>";
    std::string second = "<tr>";
    for (std::size_t i = 0; i < columns_.size(); ++i) {
        if (!grouped || columns_[i].group.empty()) {
            first += title(i, grouped);
            continue;
        }
        if (begins_group(i)) {
            std::size_t last = i;
            while (last < columns_.size() && columns_[last].group == columns_[i].group) ++last;
            first += fmt::format("<th scope=\"colgroup\" colspan=\"{}\">{}</th>", last - i,
                                 xml_text(columns_[i].group));
        }
        second += title(i, false);
    }
    return "<thead>" + first + "</tr>" + (grouped ? second + "</tr>" : "") + "</thead>\n";
}

std::string HtmlTable::html(std::string_view about) const {
    std::string text = fmt::format("<div class=\"scroll\"><table class=\"sorts\" "
                                   "aria-label=\"{}\">\n{}<tbody>\n",
                                   xml_text(about), head());
    for (const auto& row : rows_) {
        text += row.levels.empty() ? std::string("<tr>")
                                   : fmt::format("<tr data-levels=\"{}\">", xml_text(row.levels));
        for (std::size_t i = 0; i < row.cells.size(); ++i) {
            const Cell& cell = row.cells[i];
            const std::string said = cell.link.empty()
                                         ? xml_text(cell.text)
                                         : fmt::format("<a href=\"{}\">{}</a>", xml_text(cell.link),
                                                       xml_text(cell.text));
            const std::string look =
                fmt::format("class=\"{}{}{}\" data-sort=\"{}\"", cell.grade,
                            columns_[i].number ? " number" : "", begins_group(i) ? " first" : "",
                            xml_text(cell.key));
            text += i == 0 ? fmt::format("<th scope=\"row\" {}>{}</th>", look, said)
                           : fmt::format("<td {}>{}</td>", look, said);
        }
        text += "</tr>\n";
    }
    return text + "</tbody></table></div>\n";
}

} // namespace hestrel::report
