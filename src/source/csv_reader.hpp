#pragma once
// Tables read as CSV (RFC 4180), cell by cell, each with its place.

#include "plan/plan.hpp"

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::source {

struct CsvCell {
    std::string text;
    plan::Place place;
};

/// The cells of one record, starting at `at`, which is moved behind it. A quoted cell may hold
/// commas, doubled quotes and line ends; `place` is moved along.
std::vector<CsvCell> next_record(std::string_view csv, std::size_t& at, plan::Place& place);

} // namespace hestrel::source
