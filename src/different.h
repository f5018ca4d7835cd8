// The different values of a column, and which of them every record has. Plain C++ on plain types:
// no R objects here.
#pragma once
#include <cstddef>
#include <vector>

#include "column.h"

namespace fairlattice {

struct Different {
  std::vector<std::size_t> first;  // a record with each value, from 0
  std::vector<int> code;           // of every record, from 1; 0 where the value is missing
};

// Numbers in ascending order, where those that are equal are one; texts, of which one stands for a
// missing value, in the order in which they are met.
Different different(const Column& column, std::size_t size, const void* missing);

}  // namespace fairlattice
