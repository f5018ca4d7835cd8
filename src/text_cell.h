// A cell of text that is being read: where it is, and how long. Behind every cell eight bytes can
// be read.
#pragma once
#include <cstddef>

namespace fairlattice {

struct TextCell {
  const char* from;
  std::size_t size;
};
const std::size_t kSlack = 8;

}  // namespace fairlattice
