#include "frame_groups.h"

#include <algorithm>
#include <climits>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <thread>

#include "hash.h"

namespace fairlattice {
namespace {

const std::size_t kBlock = 1024;
const std::size_t kLarge = 100000;  // records that are taken in two parts
const int kStateBits = 7;  // what a weight and a count are, and whether replicates are there

// Groups of one column more: those that were alike before and have the same value in it. A block
// is split at a time, so that memory is on its way before it is needed.
class Split {
 public:
  Split() : slots_(256) {}
  void block(std::uint32_t* group, const std::uint64_t* value, std::size_t size) {
    for (std::size_t i = 0; i < size; ++i) ahead(&slots_[place(group[i], value[i])]);
    for (std::size_t i = 0; i < size; ++i) group[i] = of(group[i], value[i]);
  }

 private:
  struct Slot {
    std::uint64_t value;
    std::uint32_t before, after;  // after: of a group, + 1
  };
  std::size_t place(std::uint32_t before, std::uint64_t value) const {
    return mixed(value + before * 0x9e3779b97f4a7c15ull) & (slots_.size() - 1);
  }
  std::uint32_t of(std::uint32_t before, std::uint64_t value) {
    std::size_t at = place(before, value);
    for (; slots_[at].after; at = (at + 1) & (slots_.size() - 1))
      if (slots_[at].before == before && slots_[at].value == value) return slots_[at].after - 1;
    slots_[at] = {value, before, ++size_};
    if (size_ * 2 > slots_.size()) grow();
    return size_ - 1;
  }
  void grow() {
    std::vector<Slot> old(slots_.size() * 2);
    old.swap(slots_);
    for (const Slot& slot : old) {
      if (!slot.after) continue;
      std::size_t at = place(slot.before, slot.value);
      while (slots_[at].after) at = (at + 1) & (slots_.size() - 1);
      slots_[at] = slot;
    }
  }
  std::vector<Slot> slots_;
  std::uint32_t size_ = 0;
};

// A number as bits: one zero, one missing value.
std::uint64_t bits_of(double x) {
  std::uint64_t bits = ~0ull;
  if (x == 0) return 0;
  if (!std::isnan(x)) std::memcpy(&bits, &x, sizeof bits);
  return bits;
}

void values_of(const FrameColumn& column, std::size_t from, std::size_t size, std::uint64_t* out) {
  if (column.whole) {
    for (std::size_t i = 0; i < size; ++i)
      out[i] = static_cast<std::uint32_t>(column.whole[from + i]);
  } else if (column.number) {
    for (std::size_t i = 0; i < size; ++i) out[i] = bits_of(column.number[from + i]);
  } else {
    for (std::size_t i = 0; i < size; ++i)
      out[i] = reinterpret_cast<std::uintptr_t>(column.text[from + i]);
  }
}

// Columns of whole numbers that go together in one value: each from its smallest number on, which
// is 1; what is missing is 0.
class Packed {
 public:
  explicit Packed(int bits) : bits_(bits) {}
  // Whether there was room for the range that a column has between two records.
  bool add(const int* whole, std::size_t from, std::size_t to) {
    std::int64_t low = INT_MAX, high = INT_MIN;
    for (std::size_t i = from; i < to; ++i) {
      low = std::min<std::int64_t>(low, whole[i] == INT_MIN ? INT_MAX : whole[i]);
      high = std::max<std::int64_t>(high, whole[i]);
    }
    int bits = 1;
    while (high >= low && (high - low + 1) >> bits) ++bits;
    if (bits_ + bits > 64) return false;
    columns_.push_back({whole, low - 1, bits_});
    bits_ += bits;
    return true;
  }
  void into(std::uint64_t* value, std::size_t from, std::size_t size) const {
    for (const Column& column : columns_) {
      for (std::size_t i = 0; i < size; ++i) {
        const int x = column.whole[from + i];
        if (x != INT_MIN) value[i] |= static_cast<std::uint64_t>(x - column.none) << column.shift;
      }
    }
  }

 private:
  struct Column {
    const int* whole;
    std::int64_t none;
    int shift;
  };
  std::vector<Column> columns_;
  int bits_;
};

Standing standing(double x) {
  if (std::isnan(x)) return Standing::missing;
  if (x == 0) return Standing::zero;
  if (x < 0) return Standing::negative;
  return std::isinf(x) ? Standing::infinite : Standing::positive;
}

// Block by block, column by column: a block stays at hand.
FrameGroups groups_between(const Frame& frame, std::size_t from, std::size_t to) {
  FrameGroups out;
  out.replicates.resize(frame.replicates.size());
  Packed packed(kStateBits);
  std::vector<FrameColumn> others;
  for (const FrameColumn& column : frame.columns)
    if (!column.whole || !packed.add(column.whole, from, to)) others.push_back(column);
  std::vector<Split> splits(others.size() + 1);
  std::uint32_t group[kBlock];
  std::uint64_t value[kBlock], state[kBlock];
  double w[kBlock], n[kBlock];
  for (; from < to; from += kBlock) {
    const std::size_t size = std::min(kBlock, to - from);
    for (std::size_t i = 0; i < size; ++i) {
      w[i] = frame.weight ? frame.weight[from + i] : 1;
      n[i] = frame.count ? frame.count[from + i] : 1;
      bool there = true;
      for (const double* r : frame.replicates) there = there && !std::isnan(r[from + i]);
      state[i] = static_cast<std::uint64_t>(standing(w[i])) << 4 |
                 static_cast<std::uint64_t>(standing(n[i])) << 1 | there;
    }
    std::fill(group, group + size, 0);
    std::copy(state, state + size, value);
    packed.into(value, from, size);
    splits.back().block(group, value, size);
    for (std::size_t c = 0; c < others.size(); ++c) {
      values_of(others[c], from, size, value);
      splits[c].block(group, value, size);
    }
    for (std::size_t i = 0; i < size; ++i)
      if (group[i] < out.sums.size()) ahead(&out.sums[group[i]]);
    for (std::size_t i = 0; i < size; ++i) {
      const std::uint32_t g = group[i];
      if (g == out.first.size()) {
        out.first.push_back(from + i);
        out.weight.push_back(static_cast<int>(state[i] >> 4));
        out.count.push_back(static_cast<int>(state[i] >> 1 & 7));
        out.replicates_there.push_back(state[i] & 1);
        out.sums.push_back({0, 0, 0, 0});
        for (auto& sums : out.replicates) sums.push_back(0);
      }
      FrameSums& to_these = out.sums[g];
      to_these.records += 1;
      to_these.n += n[i];
      to_these.w += n[i] * w[i];
      to_these.w2 += n[i] * w[i] * w[i];
      for (std::size_t r = 0; r < frame.replicates.size(); ++r)
        out.replicates[r][g] += n[i] * frame.replicates[r][from + i];
    }
  }
  return out;
}

}  // namespace

// The halves are the same whatever the number of threads, so that the sums are.
std::vector<FrameGroups> frame_groups(const Frame& frame, bool halves, int threads) {
  const std::size_t middle = halves && frame.size > kLarge ? frame.size / 2 : frame.size;
  std::vector<FrameGroups> out(1);
  if (middle == frame.size) {
    out[0] = groups_between(frame, 0, frame.size);
    return out;
  }
  out.resize(2);
  const auto second = [&] { out[1] = groups_between(frame, middle, frame.size); };
  std::thread other;
  if (threads > 1) other = std::thread(second);
  out[0] = groups_between(frame, 0, middle);
  if (threads > 1) {
    other.join();
  } else {
    second();
  }
  return out;
}

}  // namespace fairlattice
