// The records of a data frame in the groups of those that are alike in some columns, with sums.
// Plain C++ on plain types: no R objects here.
#pragma once
#include <cstddef>
#include <vector>

#include "column.h"
#include "group_table.h"

namespace fairlattice {

struct FramePart {
  std::size_t size = 0;
  std::vector<Column> columns;                       // by which records are told apart
  const double *weight = nullptr, *count = nullptr;  // null: everybody stands for one
  std::vector<const double*> replicates;
};

// Parts of the same columns, one below the other.
using Frame = std::vector<FramePart>;

// What a weight or count of a group is; in this order, from 0.
enum class Standing { missing, zero, positive, negative, infinite };

struct FrameGroups {
  std::vector<std::size_t> first;  // a record of each group, from 0, in ascending order
  std::vector<int> weight, count;  // Standing
  std::vector<char> replicates_there;
  std::vector<Group> groups;
  std::vector<double> records;  // of each group, where a record has a count; else it is n
  std::vector<std::vector<double>> replicates;
};

// The groups of a frame of at least one part; with `halves`, of a large one those of each of its
// two halves.
std::vector<FrameGroups> frame_groups(const Frame& frame, bool halves, int threads);

}  // namespace fairlattice
