#include "command/commands.hpp"

#include <csignal>

int main(int argc, char** argv) {
    std::signal(SIGXFSZ,
                SIG_IGN); // a file that grows too large is an error of the write, with a message
    return hestrel::command::run(hestrel::command::Arguments(argv + 1, argv + argc));
}
