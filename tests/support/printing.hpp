#pragma once
// How Catch shows our types where a check fails.

#include "plan/units.hpp"

#include <catch2/catch.hpp>
#include <string>

namespace Catch {

template <>
struct StringMaker<hestrel::plan::Micros> {
    static std::string convert(hestrel::plan::Micros time) {
        return std::to_string(time.count) + " us";
    }
};
template <>
struct StringMaker<hestrel::plan::Bytes> {
    static std::string convert(hestrel::plan::Bytes size) {
        return std::to_string(hestrel::plan::in_mebibytes(size)) + " MiB";
    }
};

} // namespace Catch
