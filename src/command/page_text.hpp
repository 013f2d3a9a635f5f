#pragma once
// A page of docs/ as text to be read on a terminal.

#include <string>
#include <string_view>

namespace hestrel::command {

/// Markdown as docs/ has it, without its marks: headings underlined, paragraphs and lists broken
/// into lines, code indented, tables as terms with what is said of them. A link to another page is
/// followed by the topic that prints that page.
std::string page_text(std::string_view markdown);

/// The topic that prints a page: "docs/guide/first-plan.md" and "first-plan.md#1" are first-plan.
std::string topic_of(std::string_view path);

} // namespace hestrel::command
