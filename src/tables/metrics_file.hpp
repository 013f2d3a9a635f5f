#pragma once
// Metrics of a plan kept in a file, to compare later ones with.

#include "compare/metrics.hpp"
#include "source/json.hpp"

#include <stdexcept>
#include <string>

namespace hestrel::tables {

/// A file that is none of ours; the message says what is wrong with it.
class FiguresError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

/// Metrics, and the plan that they are of.
struct KeptMetrics {
    compare::Metrics figures;
    source::Json content; ///< as `plan_content` says
};

std::string metrics_json(const KeptMetrics& kept);
/// Throws FiguresError.
KeptMetrics parse_metrics(const std::string& text);

} // namespace hestrel::tables
