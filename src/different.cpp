#include "different.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <numeric>

#include "group_table.h"

namespace fairlattice {
namespace {

const std::size_t kBatch = 256;

// In the order in which they are met: every value is a group.
template <typename T, typename Missing>
Different as_met(const T* values, std::size_t size, Missing missing) {
  Different out;
  out.code.resize(size);
  GroupTable table;
  std::uint64_t keys[kBatch];
  std::size_t records[kBatch], waiting = 0;
  const auto take = [&] {
    table.each(keys, waiting, [&](std::size_t i, std::size_t place) {
      out.code[records[i]] = static_cast<int>(place + 1);
      if (place == out.first.size()) out.first.push_back(records[i]);
    });
    waiting = 0;
  };
  for (std::size_t i = 0; i < size; ++i) {
    if (missing(values[i])) continue;
    keys[waiting] = bits_of(values[i]);
    records[waiting] = i;
    if (++waiting == kBatch) take();
  }
  take();
  return out;
}

// Whole numbers that lie close together have places of their own; false when they do not.
template <typename T>
bool by_place(const T* values, std::size_t size, Different& out) {
  double low = INFINITY, high = -INFINITY;
  for (std::size_t i = 0; i < size; ++i) {
    if (is_missing(values[i])) continue;
    if (!is_whole(values[i])) return false;
    low = std::min<double>(low, values[i]);
    high = std::max<double>(high, values[i]);
  }
  if (!(low <= high && high - low < 2.0 * static_cast<double>(size) + 256)) return false;
  const std::size_t none = size;
  std::vector<std::size_t> first(static_cast<std::size_t>(high - low) + 1, none);
  const auto place = [&](T x) { return static_cast<std::size_t>(x - low); };
  for (std::size_t i = size; i-- > 0;)
    if (!is_missing(values[i])) first[place(values[i])] = i;
  std::vector<int> code(first.size());
  for (std::size_t at = 0; at < first.size(); ++at) {
    if (first[at] == none) continue;
    out.first.push_back(first[at]);
    code[at] = static_cast<int>(out.first.size());
  }
  out.code.resize(size);
  for (std::size_t i = 0; i < size; ++i)
    if (!is_missing(values[i])) out.code[i] = code[place(values[i])];
  return true;
}

template <typename T>
Different ascending(const T* values, std::size_t size) {
  Different out;
  if (by_place(values, size, out)) return out;
  const Different met = as_met(values, size, [](T x) { return is_missing(x); });
  std::vector<int> order(met.first.size()), rank(met.first.size() + 1);
  std::iota(order.begin(), order.end(), 0);
  std::sort(order.begin(), order.end(),
            [&](int a, int b) { return values[met.first[a]] < values[met.first[b]]; });
  for (std::size_t k = 0; k < order.size(); ++k) {
    out.first.push_back(met.first[order[k]]);
    rank[order[k] + 1] = static_cast<int>(k + 1);
  }
  out.code.resize(size);
  for (std::size_t i = 0; i < size; ++i) out.code[i] = rank[met.code[i]];
  return out;
}

}  // namespace

Different different(const Column& column, std::size_t size, const void* missing) {
  if (column.whole) return ascending(column.whole, size);
  if (column.number) return ascending(column.number, size);
  return as_met(column.text, size, [missing](const void* x) { return x == missing; });
}

}  // namespace fairlattice
