#pragma once
// The flow of a plan as a graph for other programs: every level a node, every way from one to
// another an edge, with all figures as attributes.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <span>
#include <string>

namespace hestrel::exchange {

/// GraphML 1.0. Sizes in MiB, times in s. What walks say of a way is its least slack, and where;
/// without walks it has none.
std::string flow_graphml(const plan::Plan& plan, std::span<const walk::Record> records);
/// The same in DOT, as Graphviz reads it.
std::string flow_dot(const plan::Plan& plan, std::span<const walk::Record> records);

} // namespace hestrel::exchange
