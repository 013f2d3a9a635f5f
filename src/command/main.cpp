#include "command/commands.hpp"
#include "source/leftovers.hpp"

#include <csignal>

int main(int argc, char** argv) {
    // A file that grows too large and a pipe that nobody reads are errors of the write, with a
    // message or without.
    std::signal(SIGXFSZ, SIG_IGN);
    std::signal(SIGPIPE, SIG_IGN);
    hestrel::source::remove_leftovers_at_signals();
    return hestrel::command::run(hestrel::command::Arguments(argv + 1, argv + argc));
}
