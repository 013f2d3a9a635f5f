#pragma once
// Routes as a plan writes them.

#include "plan/plan.hpp"
#include "source/yaml_writer.hpp"

#include <string>

namespace hestrel::tables {

/// `{go: quay, speed: run}`: a step of a player's route.
std::string step_yaml(const plan::Plan& plan, const plan::RoutePlayer& player,
                      const plan::RouteStep& step);

/// Adds a route under its name, with all that it says: read again it is the same route.
void add_route(source::BlockYaml& yaml, const plan::Plan& plan, const plan::Route& route);

} // namespace hestrel::tables
