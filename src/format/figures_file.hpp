#pragma once
// Figures of a plan kept in a file, to compare later ones with.

#include "compare/figures.hpp"
#include "format/json.hpp"

#include <stdexcept>
#include <string>

namespace hestrel::format {

/// A file that is none of ours; the message says what is wrong with it.
class FiguresError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

/// Figures, and the plan that they are of.
struct KeptFigures {
    compare::Figures figures;
    Json content; ///< as `plan_content` says
};

std::string figures_json(const KeptFigures& kept);
/// Throws FiguresError.
KeptFigures parse_figures(const std::string& text);

} // namespace hestrel::format
