// The times that are promised (CONTRIBUTING.md, "Speed"), of the whole program on plans of each
// shape:
//   hestrel_speed PROGRAM [NAME…]     measures all, or those whose name begins so; says what is met
// CPU time and memory are the process's own, the best of three. libyaml's events of the same files,
// in a process of its own, is what reading is held against. Growth is fitted over three sizes, as
// the exponent of a power.

#include "bench/large_situations.hpp"
#include "bench/libyaml_events.hpp"
#include "bench/shapes.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <fcntl.h>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <functional>
#include <optional>
#include <sstream>
#include <stdexcept>
#include <string>
#include <string_view>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>
#include <vector>

namespace {

using namespace hestrel::bench;
namespace fs = std::filesystem;

struct Cost {
    double seconds = 0; ///< of CPU time, user and system
    double mebibytes = 0;
};

/// What a child process costs that does `work`, the best of three where that is quick. A higher
/// exit code than `most` fails.
Cost cost_of(int most, const std::function<void()>& work) {
    Cost best{INFINITY, INFINITY};
    for (int i = 0; i < 3; ++i) {
        const pid_t child = fork();
        if (child < 0) throw std::runtime_error("no process");
        if (child == 0) {
            work();
            _exit(4);
        }
        int status = 0;
        rusage used{};
        if (wait4(child, &status, 0, &used) != child) throw std::runtime_error("no child");
        if (!WIFEXITED(status) || WEXITSTATUS(status) > most)
            throw std::runtime_error("what is measured failed");
        const auto seconds = [](const timeval& time) {
            return static_cast<double>(time.tv_sec) + 1e-6 * static_cast<double>(time.tv_usec);
        };
        best.seconds = std::min(best.seconds, seconds(used.ru_utime) + seconds(used.ru_stime));
        best.mebibytes = std::min(best.mebibytes, static_cast<double>(used.ru_maxrss) / 1024);
        if (best.seconds > 5) break;
    }
    return best;
}

/// `input`: a file for standard input; empty: nothing.
Cost cost_of_program(const std::string& program, const std::vector<std::string>& arguments,
                     const std::string& input = {}) {
    // Problems that are found end with 1; plans to check have no errors.
    return cost_of(arguments.front() == "check" ? 0 : 1, [&] {
        std::vector<char*> words{const_cast<char*>(program.c_str())};
        for (const std::string& one : arguments) words.push_back(const_cast<char*>(one.c_str()));
        words.push_back(nullptr);
        const int nothing = open("/dev/null", O_RDWR | O_CLOEXEC);
        dup2(input.empty() ? nothing : open(input.c_str(), O_RDONLY | O_CLOEXEC), STDIN_FILENO);
        dup2(nothing, STDOUT_FILENO);
        dup2(nothing, STDERR_FILENO);
        execv(program.c_str(), words.data());
    });
}

Cost cost_of_events(const std::vector<fs::path>& files) {
    return cost_of(0, [&] {
        for (const fs::path& file : files) {
            std::ifstream in(file, std::ios::binary);
            std::ostringstream text;
            text << in.rdbuf();
            read_events(text.str());
        }
        _exit(0);
    });
}

/// Something that is measured, and what it has to reach.
struct Measured {
    std::string name;
    std::string shape;                ///< "" for the shipped plan
    std::array<int, 3> sizes{};       ///< the last is what the figures are about
    std::vector<std::string> command; ///< PLAN and OUT stand for the plan and a folder
    double seconds = 0;               ///< to reach; 0: nothing is said
    double of_events = 0;             ///< times what libyaml's events take
    double mebibytes = 0;
    /// Lines for standard input; what is measured then is what one of the last ten takes.
    std::vector<std::string> lines = {};
};

/// Exactly 2.5 times libyaml's events is what reading and checking any shape may take.
Measured checked(const std::string& shape, int size) {
    return {"check " + shape, shape, {size / 4, size / 2, size}, {"check", "PLAN"}, 0, 2.5, 0};
}

/// So many lines of play that go on in time.
std::vector<std::string> walked_on(int lines) {
    return {static_cast<std::size_t>(lines), "pause 1"};
}

std::vector<Measured> all_measured() {
    const std::vector<std::string> walk{"walk", "PLAN", "--no-figures", "--out", "OUT"};
    return {
        checked("road", 10'000),
        checked("kept", 10'000),
        checked("files", 10'000),
        checked("triggers", 20'000),
        checked("path", 20'000),
        checked("sublevels", 2'000),
        checked("near", 10'000),
        checked("menus", 10'000),
        checked("belongings", 10'000),
        checked("boxes", 10'000),
        checked("facts", 10'000),
        checked("conditions", 4'000),
        {"walk firings", "firings", {1'000, 10'000, 100'000}, walk, 1.2, 0, 150},
        {"check cells", "cells", {1'024, 2'048, 4'096}, {"check", "PLAN"}, 0.2, 0, 0},
        {"walk cells", "cells", {1'024, 2'048, 4'096}, walk, 0.5, 0, 0},
        {"walk road", "road", {1'000, 3'000, 10'000}, walk, 0, 0, 0},
        {"order",
         "listed",
         {2'500, 5'000, 10'000},
         {"order", "PLAN", "--no-figures", "--out", "OUT"},
         1.5,
         0,
         0},
        {"advise", "listed", {2'500, 5'000, 10'000}, {"advise", "PLAN", "--out", "OUT"}, 3, 0, 0},
        {"map", "road", {750, 1'500, 3'000}, {"walk", "PLAN", "--out", "OUT"}, 0, 0, 0},
        {"report",
         "listed",
         {750, 1'500, 3'000},
         {"report", "PLAN", "--out", "OUT/report.html"},
         4,
         0,
         200},
        {"play road",
         "road",
         {250, 500, 1'000},
         {"play", "PLAN", "--route", "road"},
         0.2,
         0,
         0,
         walked_on(50)},
        {"play demo",
         "",
         {},
         {"play", "PLAN", "--route", "first-round"},
         0.05,
         0,
         0,
         walked_on(20)},
        {"demo walk", "", {}, {"walk", "PLAN", "--out", "OUT"}, 0.6, 0, 0},
        {"demo eight machines",
         "",
         {},
         {"walk", "PLAN", "--route", "two-carriers", "--set",
          "routes.two-carriers.machines={m0: {device: console, players: [ada]}, m1: {device: "
          "handheld, players: [ben], delay: 60 ms}, m2: {device: desktop, delay: 20 ms}, m3: "
          "{device: console, delay: 30 ms}, m4: {device: handheld, delay: 40 ms}, m5: {device: "
          "desktop, delay: 50 ms}, m6: {device: console, delay: 70 ms}, m7: {device: handheld, "
          "delay: 80 ms}}",
          "--no-figures", "--out", "OUT"},
         0.3,
         0,
         0},
        {"demo explore", "", {}, {"explore", "PLAN", "--no-figures", "--out", "OUT"}, 1, 0, 0},
        {"demo spread",
         "",
         {},
         {"spread", "PLAN", "--trials", "10000", "--route", "all", "--device", "all",
          "--no-figures", "--out", "OUT"},
         20,
         0,
         0},
        {"demo demo", "", {}, {"demo", "OUT/demo"}, 6, 0, 0},
        {"explore situations",
         "switchboard",
         {17, 19, 21},
         {"explore", "PLAN", "--no-figures", "--jobs", "1", "--out", "OUT"},
         1.05,
         0,
         150},
    };
}

/// The slope of the best line through the logarithms.
double exponent(const std::array<int, 3>& sizes, const std::array<double, 3>& seconds) {
    double x = 0;
    double y = 0;
    double xx = 0;
    double xy = 0;
    for (std::size_t i = 0; i < 3; ++i) {
        const double across = std::log(sizes[i]);
        const double up = std::log(std::max(seconds[i], 0.001));
        x += across;
        y += up;
        xx += across * across;
        xy += across * up;
    }
    return (3 * xy - x * y) / (3 * xx - x * x);
}

/// A folder that goes with the program.
class Folder {
public:
    Folder() : path_((fs::temp_directory_path() / "hestrel-speed-XXXXXX").string()) {
        if (mkdtemp(path_.data()) == nullptr) throw std::runtime_error("no folder");
    }
    Folder(const Folder&) = delete;
    Folder& operator=(const Folder&) = delete;
    ~Folder() {
        std::error_code ignored;
        fs::remove_all(path_, ignored);
    }
    [[nodiscard]] fs::path path() const { return path_; }

private:
    std::string path_;
};

Files files_of(const Measured& one, int size) {
    return one.shape == "switchboard" ? Files{{"plan.yaml", switchboard(size)}}
                                      : shape(one.shape).files(size);
}

struct Row {
    Cost cost;
    double of_events = 0;
    double grows = 0;
};

/// What one of the last ten lines of play takes.
Cost cost_of_a_line(const std::string& program, const std::vector<std::string>& words,
                    const std::vector<std::string>& lines, const fs::path& folder) {
    constexpr std::size_t last = 10;
    const auto with = [&](std::size_t count) {
        const std::string input = (folder / fmt::format("lines{}", count)).string();
        std::ofstream file(input);
        for (std::size_t i = 0; i < count; ++i) file << lines[i] << "\n";
        file.close();
        return cost_of_program(program, words, input);
    };
    Cost all = with(lines.size());
    all.seconds = std::max(0.0, all.seconds - with(lines.size() - last).seconds) / last;
    return all;
}

Row measure(const std::string& program, const Measured& one) {
    Row row;
    std::array<double, 3> seconds{};
    const std::size_t sizes = one.shape.empty() ? 1 : one.sizes.size();
    for (std::size_t i = 0; i < sizes; ++i) {
        const Folder folder;
        fs::path plan = "examples/glasswater/glasswater.yaml";
        std::vector<fs::path> written;
        if (!one.shape.empty()) {
            for (const auto& [name, text] : files_of(one, one.sizes[i])) {
                written.push_back(folder.path() / name);
                std::ofstream(written.back()) << text;
            }
            plan = folder.path() / "plan.yaml";
        }
        std::vector<std::string> words = one.command;
        for (std::string& word : words) {
            if (word == "PLAN") word = plan.string();
            if (word.starts_with("OUT")) word = (folder.path() / "out").string() + word.substr(3);
        }
        row.cost = one.lines.empty() ? cost_of_program(program, words)
                                     : cost_of_a_line(program, words, one.lines, folder.path());
        seconds[i] = row.cost.seconds;
        if (one.of_events > 0) row.of_events = row.cost.seconds / cost_of_events(written).seconds;
    }
    if (sizes == 3) {
        std::array<int, 3> across = one.sizes;
        if (one.shape == "switchboard")
            for (int& size : across) size = 1 << size;
        row.grows = exponent(across, seconds);
    }
    return row;
}

/// How fast the machine is just now: what it is shared with can take half of it.
void print_machine() {
    const Folder folder;
    const fs::path plan = folder.path() / "plan.yaml";
    std::ofstream(plan) << shape("road").files(10'000).at("plan.yaml");
    fmt::print("{:<20} {:>8} {:>8.2f} s\n", "libyaml's events", 10'000,
               cost_of_events({plan}).seconds);
}

bool print(const Measured& one, const Row& row) {
    bool met = true;
    std::string wanted;
    const auto hold = [&](double to_reach, double reached, const char* format) {
        if (to_reach <= 0) return;
        met = met && reached <= to_reach;
        wanted += (wanted.empty() ? "" : ", ") + fmt::format(fmt::runtime(format), to_reach);
    };
    hold(one.seconds, row.cost.seconds, "{} s");
    hold(one.of_events, row.of_events, "{} × events");
    hold(one.mebibytes, row.cost.mebibytes, "{} MiB");
    const auto shown = [](double value, const char* format) {
        return value > 0 ? fmt::format(fmt::runtime(format), value) : std::string();
    };
    fmt::print("{:<20} {:>8} {:>8.2f} s {:>7.0f} MiB {:>10} {:>7}  {:<18} {}\n", one.name,
               one.shape.empty() ? "" : fmt::to_string(one.sizes[2]), row.cost.seconds,
               row.cost.mebibytes, shown(row.of_events, "{:.1f} ×"), shown(row.grows, "n^{:.2f}"),
               wanted,
               wanted.empty() ? ""
               : met          ? "met"
                              : "NOT MET");
    std::fflush(stdout);
    return met;
}

} // namespace

int main(int count, char** words) {
    if (count < 2) {
        std::fputs("usage: hestrel_speed PROGRAM [NAME…]\n", stderr);
        return 2;
    }
    try {
        const std::vector<std::string_view> names(words + 2, words + count);
        fmt::print("{:<20} {:>8} {:>10} {:>11} {:>10} {:>7}  {:<18}\n", "what", "size", "CPU",
                   "memory", "to events", "grows", "to reach");
        bool met = true;
        print_machine();
        for (const Measured& one : all_measured()) {
            const auto begins = [&](std::string_view name) { return one.name.starts_with(name); };
            if (!names.empty() && std::none_of(names.begin(), names.end(), begins)) continue;
            met = print(one, measure(words[1], one)) && met;
        }
        return met ? 0 : 1;
    } catch (const std::exception& error) {
        fmt::print(stderr, "hestrel_speed: {}\n", error.what());
        return 3;
    }
}
