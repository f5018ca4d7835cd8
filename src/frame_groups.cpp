#include "frame_groups.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <thread>

#include "hash.h"

namespace fairlattice {
namespace {

const std::size_t kBlock = 256;
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

void values_of(const Column& column, std::size_t from, std::size_t size, std::uint64_t* out) {
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

// Some records of a part, and how many records of the frame stand before its first.
struct Stretch {
  const FramePart* part;
  std::size_t from, to, before;
};

std::vector<Stretch> stretches_between(const Frame& frame, std::size_t from, std::size_t to) {
  std::vector<Stretch> out;
  std::size_t before = 0;
  for (const FramePart& part : frame) {
    const std::size_t begin = std::max(from, before), end = std::min(to, before + part.size);
    if (begin < end) out.push_back({&part, begin - before, end - before, before});
    before += part.size;
  }
  return out;
}

// Columns of whole numbers that go together in one value: each from its smallest number on, which
// is 1; what is missing is 0.
class Packed {
 public:
  explicit Packed(int bits) : bits_(bits) {}
  // Whether a column has whole numbers only in some stretches, and there was room for their range.
  bool add(const std::vector<Stretch>& stretches, std::size_t at) {
    std::int64_t low = INT64_MAX, high = INT64_MIN;
    for (const Stretch& stretch : stretches) {
      const Column& column = stretch.part->columns[at];
      if (column.text) return false;
      const bool whole =
          column.whole ? range(column.whole + stretch.from, column.whole + stretch.to, low, high)
                       : range(column.number + stretch.from, column.number + stretch.to, low, high);
      if (!whole) return false;
    }
    int bits = 1;
    while (high >= low && bits < 64 && static_cast<std::uint64_t>(high - low + 1) >> bits) ++bits;
    if (bits_ + bits > 64) return false;
    fields_.push_back({at, low - 1, bits_});
    bits_ += bits;
    return true;
  }
  void into(std::uint64_t* value, const FramePart& part, std::size_t from, std::size_t size) const {
    for (const Field& field : fields_) {
      const Column& values = part.columns[field.at];
      if (values.whole) {
        put(values.whole + from, size, field, value);
      } else {
        put(values.number + from, size, field, value);
      }
    }
  }

 private:
  struct Field {
    std::size_t at;
    std::int64_t none;
    int shift;
  };
  // False where one is not whole.
  template <typename T>
  static bool range(const T* from, const T* to, std::int64_t& low, std::int64_t& high) {
    for (; from < to; ++from) {
      if (is_missing(*from)) continue;
      if (!is_whole(*from)) return false;
      low = std::min(low, static_cast<std::int64_t>(*from));
      high = std::max(high, static_cast<std::int64_t>(*from));
    }
    return true;
  }
  template <typename T>
  static void put(const T* x, std::size_t size, const Field& field, std::uint64_t* value) {
    for (std::size_t i = 0; i < size; ++i)
      if (!is_missing(x[i]))
        value[i] |= static_cast<std::uint64_t>(static_cast<std::int64_t>(x[i]) - field.none)
                    << field.shift;
  }
  std::vector<Field> fields_;
  int bits_;
};

Standing standing(double x) {
  if (std::isnan(x)) return Standing::missing;
  if (x == 0) return Standing::zero;
  if (x < 0) return Standing::negative;
  return std::isinf(x) ? Standing::infinite : Standing::positive;
}

// Block by block, column by column: a block stays at hand. Where all columns go together in one
// value, that finds the group; otherwise those that are alike so far are split by one column more.
class Grouping {
 public:
  explicit Grouping(const std::vector<Stretch>& stretches) : packed_(kStateBits) {
    const FramePart& first = *stretches[0].part;
    out_.replicates.resize(first.replicates.size());
    for (std::size_t c = 0; c < first.columns.size(); ++c)
      if (!packed_.add(stretches, c)) others_.push_back(c);
    splits_.resize(others_.size() + 1);
    for (const Stretch& stretch : stretches)
      for (std::size_t from = stretch.from; from < stretch.to; from += kBlock)
        block(*stretch.part, from, std::min(kBlock, stretch.to - from), stretch.before + from);
  }
  FrameGroups take() {
    out_.groups = std::move(table_.groups);
    return std::move(out_);
  }

 private:
  void block(const FramePart& part, std::size_t from, std::size_t size, std::size_t before) {
    for (std::size_t i = 0; i < size; ++i) {
      w_[i] = part.weight ? part.weight[from + i] : 1;
      n_[i] = part.count ? part.count[from + i] : 1;
      bool there = true;
      for (const double* r : part.replicates) there = there && !std::isnan(r[from + i]);
      state_[i] = static_cast<std::uint64_t>(standing(w_[i])) << 4 |
                  static_cast<std::uint64_t>(standing(n_[i])) << 1 | there;
    }
    std::copy(state_, state_ + size, value_);
    packed_.into(value_, part, from, size);
    const auto add = [&](std::size_t i, std::size_t place) {
      if (place == out_.first.size()) begin(before + i, state_[i]);
      Group& group = table_.groups[place];
      group.n += n_[i];
      group.w += n_[i] * w_[i];
      group.w2 += n_[i] * w_[i] * w_[i];
      if (part.count) out_.records[place] += 1;
      for (std::size_t r = 0; r < part.replicates.size(); ++r)
        out_.replicates[r][place] += n_[i] * part.replicates[r][from + i];
    };
    if (others_.empty()) {
      table_.each(value_, size, add);
      return;
    }
    std::fill(group_, group_ + size, 0);
    splits_.back().block(group_, value_, size);
    for (std::size_t c = 0; c < others_.size(); ++c) {
      values_of(part.columns[others_[c]], from, size, value_);
      splits_[c].block(group_, value_, size);
    }
    for (std::size_t i = 0; i < size; ++i)
      if (group_[i] < table_.groups.size()) ahead(&table_.groups[group_[i]]);
    for (std::size_t i = 0; i < size; ++i) {
      if (group_[i] == table_.groups.size()) table_.groups.push_back({group_[i], 0, 0, 0});
      add(i, group_[i]);
    }
  }
  // A group whose first record is `record`.
  void begin(std::size_t record, std::uint64_t state) {
    out_.first.push_back(record);
    out_.weight.push_back(static_cast<int>(state >> 4));
    out_.count.push_back(static_cast<int>(state >> 1 & 7));
    out_.replicates_there.push_back(state & 1);
    out_.records.push_back(0);
    for (auto& sums : out_.replicates) sums.push_back(0);
  }

  Packed packed_;
  std::vector<std::size_t> others_;  // columns
  std::vector<Split> splits_;
  GroupTable table_;
  FrameGroups out_;
  std::uint32_t group_[kBlock];
  std::uint64_t value_[kBlock], state_[kBlock];
  double w_[kBlock], n_[kBlock];
};

FrameGroups groups_between(const Frame& frame, std::size_t from, std::size_t to) {
  const std::vector<Stretch> stretches = stretches_between(frame, from, to);
  if (!stretches.empty()) return Grouping(stretches).take();
  FrameGroups none;
  none.replicates.resize(frame[0].replicates.size());
  return none;
}

}  // namespace

// The halves are the same whatever the number of threads, so that the sums are.
std::vector<FrameGroups> frame_groups(const Frame& frame, bool halves, int threads) {
  std::size_t size = 0;
  for (const FramePart& part : frame) size += part.size;
  if (!halves || size <= kLarge) return {groups_between(frame, 0, size)};
  std::vector<FrameGroups> out(2);
  const auto second = [&] { out[1] = groups_between(frame, size / 2, size); };
  std::thread other;
  if (threads > 1) other = std::thread(second);
  out[0] = groups_between(frame, 0, size / 2);
  if (threads > 1) {
    other.join();
  } else {
    second();
  }
  return out;
}

}  // namespace fairlattice
