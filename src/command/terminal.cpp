#include "command/terminal.hpp"

#include <unistd.h>

namespace hestrel::command {

std::string wrapped(std::string_view text, std::size_t width, std::string_view indent) {
    std::string lines;
    for (const std::string& line : tables::broken(text, width - indent.size()))
        lines += std::string(indent) + line + "\n";
    return lines;
}

bool on_terminal(std::FILE* stream) {
    return ::isatty(::fileno(stream)) != 0;
}

} // namespace hestrel::command
