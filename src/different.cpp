#include "different.h"

#include <algorithm>
#include <climits>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <numeric>

#include "hash.h"

namespace fairlattice {
namespace {

// Codes of values by their bits.
class Codes {
 public:
  Codes() : slots_(256) {}
  int of(std::uint64_t value) {
    std::size_t at = place(value);
    for (; slots_[at].code; at = next(at))
      if (slots_[at].value == value) return slots_[at].code;
    slots_[at] = {value, ++size_};
    if (static_cast<std::size_t>(size_) * 2 > slots_.size()) grow();
    return size_;
  }

 private:
  struct Slot {
    std::uint64_t value;
    int code;  // 0: free
  };
  std::size_t place(std::uint64_t value) const { return mixed(value) & (slots_.size() - 1); }
  std::size_t next(std::size_t at) const { return (at + 1) & (slots_.size() - 1); }
  void grow() {
    std::vector<Slot> old(slots_.size() * 2);
    old.swap(slots_);
    for (const Slot& slot : old) {
      if (!slot.code) continue;
      std::size_t at = place(slot.value);
      while (slots_[at].code) at = next(at);
      slots_[at] = slot;
    }
  }
  std::vector<Slot> slots_;
  int size_ = 0;
};

std::uint64_t bits_of(int x) { return static_cast<std::uint32_t>(x); }
std::uint64_t bits_of(const void* x) { return reinterpret_cast<std::uintptr_t>(x); }
std::uint64_t bits_of(double x) {
  std::uint64_t bits;
  x += 0.0;  // one zero
  std::memcpy(&bits, &x, sizeof bits);
  return bits;
}

bool is_missing(int x) { return x == INT_MIN; }
bool is_missing(double x) { return std::isnan(x); }

// In the order in which they are met.
template <typename T, typename Missing>
Different as_met(const T* values, std::size_t size, Missing missing) {
  Different out;
  out.code.resize(size);
  Codes codes;
  for (std::size_t i = 0; i < size; ++i) {
    if (missing(values[i])) continue;
    out.code[i] = codes.of(bits_of(values[i]));
    if (static_cast<std::size_t>(out.code[i]) > out.first.size()) out.first.push_back(i);
  }
  return out;
}

// Whole numbers that lie close together have places of their own; false when they do not.
template <typename T>
bool by_place(const T* values, std::size_t size, Different& out) {
  double low = INFINITY, high = -INFINITY;
  for (std::size_t i = 0; i < size; ++i) {
    if (is_missing(values[i])) continue;
    const double x = values[i];
    if (x != std::floor(x)) return false;
    low = std::min(low, x);
    high = std::max(high, x);
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

Different different(const int* whole, std::size_t size) { return ascending(whole, size); }
Different different(const double* number, std::size_t size) { return ascending(number, size); }
Different different(const void* const* text, std::size_t size, const void* missing) {
  return as_met(text, size, [missing](const void* x) { return x == missing; });
}

}  // namespace fairlattice
