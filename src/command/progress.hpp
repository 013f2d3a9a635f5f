#pragma once
// How far a command has come, and how long it will still take: one line on standard error, over
// and over, where a person watches it there.

#include "advise/advice.hpp"
#include "command/output.hpp"
#include "explore/explorer.hpp"

#include <chrono>
#include <cstddef>
#include <map>
#include <mutex>
#include <string>
#include <string_view>

namespace hestrel::command {

/// A stretch of work, as far as it has come: "walks: 12 of 36, about 4 s left".
struct Stretch {
    std::string what;
    std::size_t done = 0;
    std::size_t of = 0;
    bool open = false; ///< more may turn up while it goes on
};
/// `seconds`: since it began. Nothing is said of what is left before there is something to go by.
std::string progress_text(const Stretch& stretch, double seconds);

/// Shows nothing where nobody watches. `one_more` and `reach` can be called from any thread.
class Progress {
public:
    Progress() = default; ///< nobody watches
    explicit Progress(const Output& output) : watched_(output.shows_progress()) {}
    Progress(const Progress&) = delete;
    Progress& operator=(const Progress&) = delete;
    ~Progress() { end(); }

    /// Another stretch begins.
    void begin(std::string what, std::size_t of);
    /// One whose end nobody knows yet: `reach` says how much there is so far.
    void begin_open(std::string what);
    void one_more();
    /// How far one of several parts has come, which are counted together.
    void reach(std::size_t part, std::size_t done, std::size_t of);
    /// Takes the line away, for what is printed next.
    void end();

private:
    using Clock = std::chrono::steady_clock;
    void show();

    bool watched_ = false;
    std::mutex guard_;
    Stretch stretch_;
    std::map<std::size_t, std::pair<std::size_t, std::size_t>> parts_; ///< done, and of how many
    Clock::time_point began_;
    Clock::time_point shown_;
    bool on_screen_ = false;
};

/// Shows how far advising has come, and exploring, one part of several.
void watch(Progress& progress, advise::Options& advising);
void watch(Progress& progress, std::size_t part, explore::Options& exploring);

} // namespace hestrel::command
