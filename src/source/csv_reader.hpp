#pragma once
// Tables read as CSV (RFC 4180), cell by cell, each with its place.
//
// A spreadsheet takes a cell that begins with = + - @, a tab or a carriage return for a formula.
// Our tables put an apostrophe before such a cell where it is no number; here it is taken off
// again.

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

/// Whether a spreadsheet would take a cell for a formula, or one of our tables wrote an apostrophe
/// before such a cell: before it a further apostrophe is written.
bool reads_as_formula(std::string_view cell);

/// The cells of one record, starting at `at`, which is moved behind it. A quoted cell may hold
/// commas, doubled quotes and line ends; `place` is moved along.
std::vector<CsvCell> next_record(std::string_view csv, std::size_t& at, plan::Place& place);

} // namespace hestrel::source
