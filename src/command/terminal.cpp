#include "command/terminal.hpp"

#include <algorithm>
#include <unistd.h>

namespace hestrel::command {

std::string wrapped(std::string_view text, std::size_t width, std::string_view indent) {
    std::string lines;
    std::string line;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find(' '), text.size());
        const std::string_view word = text.substr(0, end);
        text.remove_prefix(std::min(end + 1, text.size()));
        if (!line.empty() && indent.size() + cells(line) + 1 + cells(word) > width) {
            lines += std::string(indent) + line + "\n";
            line.clear();
        }
        line += (line.empty() ? "" : " ") + std::string(word);
    }
    return lines + std::string(indent) + line + "\n";
}

bool on_terminal(std::FILE* stream) {
    return ::isatty(::fileno(stream)) != 0;
}

} // namespace hestrel::command
