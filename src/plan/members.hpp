#pragma once
// One visitor of a struct's members, from which keys and tests of it are made: a function
// `for_members(of, visit)` beside the struct, for it and its const form. It takes the struct apart
// by a structured binding, so that a new member does not compile until it is in it.

#include <concepts>
#include <type_traits>

namespace hestrel::plan {

/// Whether `T` is `S`, const or not.
template <class T, class S>
concept IsA = std::same_as<std::remove_const_t<T>, S>;

} // namespace hestrel::plan
