#pragma once
// What must not be left behind when a signal ends the process: files written beside the one they
// are going to replace, folders to draw in.

#include <list>
#include <string>

namespace hestrel::source {

/// While it lives, SIGINT, SIGTERM and SIGHUP remove the file or folder before they end the
/// process, once `remove_leftovers_at_signals` has been called.
class Leftover {
public:
    explicit Leftover(std::string path);
    Leftover(const Leftover&) = delete;
    Leftover& operator=(const Leftover&) = delete;
    ~Leftover();

private:
    std::list<std::string>::iterator entry_;
};

/// To be called once, before any other thread is started. A signal that was ignored until then, as
/// by `nohup`, stays ignored. Where no thread can be started signals end the process as before.
void remove_leftovers_at_signals();

} // namespace hestrel::source
