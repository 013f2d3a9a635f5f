#include "source/built_with.hpp"

#include <boost/version.hpp>
#include <fmt/format.h>
#include <nettle/version.h>
#include <nlohmann/json.hpp>
#include <pugixml.hpp>
#include <yaml.h>
#include <zlib.h>

namespace hestrel::source {

std::string built_with() {
#if defined(__clang__)
    const std::string compiler =
        fmt::format("clang {}.{}.{}", __clang_major__, __clang_minor__, __clang_patchlevel__);
#elif defined(__GNUC__)
    const std::string compiler =
        fmt::format("GCC {}.{}.{}", __GNUC__, __GNUC_MINOR__, __GNUC_PATCHLEVEL__);
#else
    const std::string compiler = "another compiler";
#endif
    const auto parts = [](int version, int patches, int minors) {
        return fmt::format("{}.{}.{}", version / minors, version / patches % (minors / patches),
                           version % patches);
    };
    return fmt::format("{}; Boost {}, fmt {}, libyaml {}, nettle {}.{}, nlohmann-json {}.{}.{}, "
                       "pugixml {}.{}, zlib {}",
                       compiler, parts(BOOST_VERSION, 100, 100'000),
                       parts(FMT_VERSION, 100, 10'000), yaml_get_version_string(),
                       NETTLE_VERSION_MAJOR, NETTLE_VERSION_MINOR, NLOHMANN_JSON_VERSION_MAJOR,
                       NLOHMANN_JSON_VERSION_MINOR, NLOHMANN_JSON_VERSION_PATCH,
                       PUGIXML_VERSION / 1000, PUGIXML_VERSION % 1000 / 10, zlibVersion());
}

} // namespace hestrel::source
