#pragma once
// Running the built program on files in a temporary folder.

#include <algorithm>
#include <catch2/catch.hpp>
#include <cstdlib>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <iterator>
#include <string>
#include <sys/wait.h>
#include <unistd.h>
#include <vector>

namespace hestrel::tests {

/// A folder of a test's own, removed at its end.
class Folder {
public:
    Folder() {
        std::string name =
            (std::filesystem::temp_directory_path() / "hestrel-test-XXXXXX").string();
        REQUIRE(::mkdtemp(name.data()) != nullptr);
        path_ = name;
    }
    Folder(const Folder&) = delete;
    Folder& operator=(const Folder&) = delete;
    ~Folder() {
        std::error_code ignored;
        std::filesystem::remove_all(path_, ignored);
    }
    [[nodiscard]] std::string operator/(std::string_view name) const {
        return (path_ / name).string();
    }
    [[nodiscard]] std::string path() const { return path_.string(); }
    void write(std::string_view name, std::string_view text) const {
        std::filesystem::create_directories((path_ / name).parent_path());
        std::ofstream(path_ / name, std::ios::binary) << text;
    }
    /// Every file below, with its folder, sorted.
    [[nodiscard]] std::vector<std::string> files() const {
        std::vector<std::string> names;
        for (const auto& entry : std::filesystem::recursive_directory_iterator(path_)) {
            if (entry.is_regular_file())
                names.push_back(std::filesystem::relative(entry.path(), path_).string());
        }
        std::sort(names.begin(), names.end());
        return names;
    }

private:
    std::filesystem::path path_;
};

inline std::string contents(const std::string& path) {
    std::ifstream file(path, std::ios::binary);
    REQUIRE(file.good());
    return {std::istreambuf_iterator<char>(file), {}};
}

/// What a run of the program said and how it ended.
struct Run {
    int code = -1; ///< exit code; 128 + signal where it was killed
    std::string out;
    std::string err;
};

/// Runs a shell command line in which HESTREL stands for the program and TMP for the folder.
inline Run run(const Folder& folder, std::string line) {
    const auto replace_all = [&](const std::string& from, const std::string& to) {
        for (std::size_t at = line.find(from); at != std::string::npos;
             at = line.find(from, at + to.size())) {
            line.replace(at, from.size(), to);
        }
    };
    replace_all("HESTREL", HESTREL_PROGRAM);
    replace_all("TMP", folder.path());
    const Folder scratch;
    const std::string command = fmt::format("cd '{}' && ( {} ) >'{}' 2>'{}'", folder.path(), line,
                                            scratch / "out", scratch / "err");
    const int status = std::system(command.c_str());
    Run result;
    result.code = WIFEXITED(status) ? WEXITSTATUS(status) : 128 + WTERMSIG(status);
    result.out = contents(scratch / "out");
    result.err = contents(scratch / "err");
    return result;
}

} // namespace hestrel::tests
