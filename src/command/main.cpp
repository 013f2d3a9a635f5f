#include "command/commands.hpp"

int main(int argc, char** argv) {
    hestrel::command::prepare_process();
    return hestrel::command::run(hestrel::command::Arguments(argv + 1, argv + argc));
}
