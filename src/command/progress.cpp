#include "command/progress.hpp"

#include "tables/words.hpp"

#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace hestrel::command {

namespace {

std::string span_text(double seconds) {
    constexpr double minute = 60;
    constexpr double hour = 3600;
    if (seconds < 100) return fmt::format("{:.0f} s", std::ceil(seconds));
    if (seconds < 100 * minute) return fmt::format("{:.0f} min", std::ceil(seconds / minute));
    return fmt::format("{:.0f} h", std::ceil(seconds / hour));
}

} // namespace

std::string progress_text(const Stretch& stretch, double seconds) {
    std::string text =
        fmt::format("{}: {} of {}{}", stretch.what, tables::grouped(stretch.done),
                    tables::grouped(stretch.of), stretch.open ? " known so far" : "");
    constexpr double soon = 0.5; // what took less tells little
    if (stretch.done == 0 || stretch.done >= stretch.of || seconds < soon) return text;
    const double left = seconds * static_cast<double>(stretch.of - stretch.done) /
                        static_cast<double>(stretch.done);
    return text + fmt::format(", {} {} left", stretch.open ? "at least" : "about", span_text(left));
}

void Progress::begin(std::string what, std::size_t of) {
    const std::scoped_lock lock(guard_);
    stretch_ = {std::move(what), 0, of, false};
    parts_.clear();
    began_ = Clock::now();
    shown_ = {};
    show();
}

void Progress::begin_open(std::string what) {
    begin(std::move(what), 0);
    const std::scoped_lock lock(guard_);
    stretch_.open = true;
}

void Progress::one_more() {
    const std::scoped_lock lock(guard_);
    ++stretch_.done;
    show();
}

void Progress::reach(std::size_t part, std::size_t done, std::size_t of) {
    const std::scoped_lock lock(guard_);
    auto& [part_done, part_of] = parts_[part];
    stretch_.done += done - std::exchange(part_done, done);
    stretch_.of += of - std::exchange(part_of, of);
    show();
}

void Progress::show() {
    constexpr auto now_and_then = std::chrono::milliseconds(100);
    const Clock::time_point now = Clock::now();
    if (!watched_ || stretch_.of == 0 || now - shown_ < now_and_then) return;
    shown_ = now;
    on_screen_ = true;
    Output::show_progress(
        progress_text(stretch_, std::chrono::duration<double>(now - began_).count()));
}

void Progress::end() {
    const std::scoped_lock lock(guard_);
    if (on_screen_) Output::clear_progress();
    on_screen_ = false;
}

void watch(Progress& progress, advise::Options& advising) {
    advising.begins = [&](std::string_view what, std::size_t of) {
        progress.begin(std::string(what), of);
    };
    advising.one_more = [&] { progress.one_more(); };
}

void watch(Progress& progress, std::size_t part, explore::Options& exploring) {
    exploring.progress = [&progress, part](std::size_t situations, std::size_t waiting) {
        progress.reach(part, situations - waiting, situations);
    };
}

} // namespace hestrel::command
