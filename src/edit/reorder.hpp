#pragma once
// The order of an edition's levels changed in the plan file, comments and layout kept.

#include "plan/plan.hpp"
#include "source/disk.hpp"

#include <stdexcept>
#include <string>
#include <utility>
#include <vector>

namespace hestrel::edit {

/// Why an order can't be written; the message is for the person who asked.
class ReorderError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

/// The order that an edition is to have.
struct NewOrder {
    plan::EditionId edition;
    std::vector<plan::LevelId> levels; ///< those that it lists, each as often
};

/// The files that change, with their new text; none is written. Only the lines of the lists change.
/// Where every level has a line of its own, its comment goes with it. The result has been read
/// again and lists what it should. Throws ReorderError where a list stands for several editions (by
/// an anchor), or can't be changed in place; FileError where a file can't be read.
std::vector<std::pair<std::string, std::string>> reorder(source::Disk& disk,
                                                         const std::string& path,
                                                         const plan::Plan& plan,
                                                         const std::vector<NewOrder>& orders);

} // namespace hestrel::edit
