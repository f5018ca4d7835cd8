// The different values of a column, and which of them every record has. Plain C++ on plain types:
// no R objects here.
#pragma once
#include <cstddef>
#include <vector>

namespace fairlattice {

struct Different {
  std::vector<std::size_t> first;  // a record with each value, from 0
  std::vector<int> code;           // of every record, from 1; 0 where the value is missing
};

// Numbers in ascending order; those that are equal are one.
Different different(const int* whole, std::size_t size);
Different different(const double* number, std::size_t size);
// Texts are alike when they are the same object, and come in the order in which they are met.
Different different(const void* const* text, std::size_t size, const void* missing);

}  // namespace fairlattice
