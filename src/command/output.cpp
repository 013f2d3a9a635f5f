#include "command/output.hpp"

#include "command/terminal.hpp"

#include <cstdio>
#include <fmt/format.h>

namespace hestrel::command {

void say(std::string_view line) {
    std::fflush(stdout);
    fmt::print(stderr, "{}\n", line);
}

void Output::print(std::string_view text) {
    fmt::print("{}", text);
}

bool Output::shows_progress() const {
    return !options_.quiet && on_terminal(stderr);
}

void Output::show_progress(std::string_view text) {
    fmt::print(stderr, "\r{} ", text);
}

void Output::end_progress() const {
    if (shows_progress()) fmt::print(stderr, "\r\033[K");
}

} // namespace hestrel::command
