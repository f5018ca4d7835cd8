#include "fixed_margins.h"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cmath>
#include <numeric>
#include <thread>
#include <unordered_map>

namespace fairlattice {
namespace {

const double kTie = 1e-7;  // relative tolerance on probabilities, absolute on S

// log(k!) for k = 0..n.
std::vector<double> log_factorials(int n) {
  std::vector<double> out(n + 1, 0.0);
  long double sum = 0;
  for (int k = 2; k <= n; ++k)
    out[k] = static_cast<double>(sum += std::log(static_cast<long double>(k)));
  return out;
}

// ---- exact: column after column, over all ways to fill it ----
// What is left of the rows (sorted: the rest of the table does not care which row is which) is a
// node. All ways to reach a node with the same S are one past, kept with its probability. A past
// whose continuations are all no more probable than the observed table is added whole, and one
// whose continuations are all more probable is dropped. With two columns left, every continuation
// of a node is listed once, sorted by S, so that a past needs only one place in that list.

struct Past {
  double S, probability;
};

// Pasts of a node by S, those equal but for rounding as one: an open-addressed table.
class Pasts {
 public:
  bool add(double S, double probability) {
    if (2 * (held_.size() + 1) > slots_.size()) grow();
    const std::size_t place = find(S);
    if (slots_[place] >= 0) {
      held_[slots_[place]].probability += probability;
      return false;
    }
    slots_[place] = static_cast<int>(held_.size());
    held_.push_back(Past{S, probability});
    return true;
  }
  std::vector<Past>& sorted() {
    std::vector<int>().swap(slots_);
    std::sort(held_.begin(), held_.end(), [](const Past& a, const Past& b) { return a.S < b.S; });
    return held_;
  }

 private:
  static std::int64_t key(double S) { return static_cast<std::int64_t>(S * 1e9 + 0.5); }
  std::size_t find(double S) const {
    const std::int64_t k = key(S);
    std::size_t place = (static_cast<std::uint64_t>(k) * 0x9e3779b97f4a7c15ULL) >> shift_;
    while (slots_[place] >= 0 && key(held_[slots_[place]].S) != k)
      place = (place + 1) & (slots_.size() - 1);
    return place;
  }
  void grow() {
    slots_.assign(slots_.empty() ? 16 : 2 * slots_.size(), -1);
    shift_ = 64;
    for (std::size_t size = slots_.size(); size > 1; size >>= 1) --shift_;
    for (std::size_t i = 0; i < held_.size(); ++i) slots_[find(held_[i].S)] = static_cast<int>(i);
  }
  std::vector<Past> held_;
  std::vector<int> slots_;
  int shift_ = 64;
};

// Probability that S of what follows is at least x, from the sorted list of what can follow. A
// coarse index makes the search short.
class Tail {
 public:
  void make(std::vector<Past>& list) {
    std::sort(list.begin(), list.end(), [](const Past& a, const Past& b) { return a.S < b.S; });
    for (const Past& one : list) {
      if (!after_.empty() && one.S - after_.back().S < 1e-9)
        after_.back().probability += one.probability;
      else
        after_.push_back(one);
    }
    for (std::size_t k = after_.size() - 1; k-- > 0;)
      after_[k].probability += after_[k + 1].probability;
    low = after_.front().S;
    high = after_.back().S;
    step_ = after_.size() / std::max(high - low, 1e-9);
    index_.assign(after_.size() + 2, 0);
    for (std::size_t k = 0, cell = 0; cell < index_.size(); ++cell) {
      while (k < after_.size() && (after_[k].S - low) * step_ < static_cast<double>(cell)) ++k;
      index_[cell] = static_cast<int>(k > 0 ? k - 1 : 0);
    }
  }
  double at_least(double x) const {
    if (x <= low) return after_[0].probability;
    if (x > high) return 0.0;
    const Past* one = &after_[index_[static_cast<std::size_t>((x - low) * step_)]];
    while (one->S < x) ++one;
    return one->probability;
  }
  double bytes() const { return 20.0 * after_.size(); }
  double low = 0, high = 0;

 private:
  std::vector<Past> after_;  // by S, with the probability of this S and all above
  std::vector<int> index_;
  double step_ = 0;
};

struct Node {
  std::vector<int> left;  // of every row, rising
  double log_rest;        // log of the weight of all that can follow
  double low, high;       // bounds on S of what follows
  Pasts pasts;
  Tail tail;  // with two columns left
};

// The margins with what is left after every column, and the logs that everything is made of.
class Problem {
 public:
  explicit Problem(const Margins& m)
      : rows(m.rows), columns(m.columns), threshold(m.observed - kTie) {
    if (rows.size() > columns.size()) std::swap(rows, columns);  // the shorter side is the node
    std::sort(rows.begin(), rows.end());
    std::sort(columns.rbegin(), columns.rend());
    const int n = std::accumulate(rows.begin(), rows.end(), 0);
    lf = log_factorials(n + 1);
    left.assign(columns.size() + 1, 0);
    log_columns_left_.assign(columns.size() + 1, 0.0);
    for (std::size_t j = columns.size(); j-- > 0;) {
      left[j] = left[j + 1] + columns[j];
      log_columns_left_[j] = log_columns_left_[j + 1] + lf[columns[j]];
    }
    while (n >> bits_) ++bits_;
  }

  // About how many nodes the fullest stage has: the ways to take from the rows half of what they
  // hold, by the normal approximation, equal rows being one another's twins.
  double nodes() const {
    double ways = 1, spread = 0;
    int run = 1;
    for (std::size_t i = 0; i < rows.size(); ++i) {
      run = i > 0 && rows[i] == rows[i - 1] ? run + 1 : 1;
      ways *= (rows[i] + 1.0) / run;
      spread += rows[i] * (rows[i] + 2.0) / 12;
    }
    return ways / std::sqrt(1 + 2 * 3.141592653589793 * spread);
  }

  bool fits_a_key() const { return bits_ * rows.size() <= 64; }

  std::uint64_t key(const std::vector<int>& sorted) const {
    std::uint64_t out = 0;
    for (int u : sorted) out = (out << bits_) | static_cast<std::uint64_t>(u);
    return out;
  }

  // Whatever follows a node before column j weighs left! / (prod(rows left!)
  // prod(columns left!)) in sum.
  double log_rest(const std::vector<int>& node, std::size_t j) const {
    double out = lf[left[j]] - log_columns_left_[j];
    for (int u : node) out -= lf[u];
    return out;
  }

  void bound(Node& node, std::size_t j) const {
    const int k = static_cast<int>(columns.size() - j), r = static_cast<int>(node.left.size());
    double low_rows = 0, low_columns = 0, high_rows = 0, high_columns = 0;
    for (int u : node.left) {
      low_rows += even(u, k);
      high_rows += packed(u, columns.begin() + j, columns.end());
    }
    for (std::size_t i = j; i < columns.size(); ++i) {
      low_columns += even(columns[i], r);
      high_columns += packed(columns[i], node.left.rbegin(), node.left.rend());
    }
    // a rounding error must not push a table over an edge that it stands on
    node.low = std::max(low_rows, low_columns) - 1e-9;
    node.high = std::min(high_rows, high_columns) + 1e-9;
  }

  std::vector<int> rows, columns, left;
  std::vector<double> lf;
  double threshold;

 private:
  // Sum of log factorials of x put into `parts` cells as evenly as can be: the least there is,
  // since log k! is convex.
  double even(int x, int parts) const {
    const int each = x / parts, more = x % parts;
    return more * lf[each + 1] + (parts - more) * lf[each];
  }

  // x put into the fullest cells first (the first of `room` is the greatest):
  // the greatest there is.
  template <class Iterator>
  double packed(int x, Iterator room, Iterator end) const {
    double out = 0;
    for (; room != end && x > 0; ++room) {
      const int here = std::min(x, *room);
      out += lf[here];
      x -= here;
    }
    return out;
  }

  std::vector<double> log_columns_left_;
  int bits_ = 1;
};

// All ways to fill one column from what is left of the rows. Rows with the same left are
// interchangeable: only falling fillings of them are made, each with the number of its orders.
// `see(filling, S, ways)` says whether to go on.
template <class See>
class Fillings {
 public:
  Fillings(const std::vector<int>& left, const std::vector<double>& lf, See see)
      : left_(left), lf_(lf), see_(see), taken_(left.size()), room_(left.size() + 1, 0) {
    for (std::size_t i = left.size(); i-- > 0;) room_[i] = room_[i + 1] + left[i];
  }
  bool all(int x) { return row(0, x, 0.0, 1.0, 1, 1); }

 private:
  // `block`: which of the equal rows this is; `run`: how many of them before it took the same.
  bool row(std::size_t i, int x, double S, double ways, int block, int run) {
    if (i == left_.size()) return see_(taken_, S, ways);
    const bool same = i > 0 && left_[i - 1] == left_[i];
    const int most = std::min(x, same ? taken_[i - 1] : left_[i]), position = same ? block + 1 : 1;
    for (int here = std::max(0, x - room_[i + 1]); here <= most; ++here) {
      const int repeat = same && here == taken_[i - 1] ? run + 1 : 1;
      taken_[i] = here;
      if (!row(i + 1, x - here, S + lf_[here], ways * position / repeat, position, repeat))
        return false;
    }
    return true;
  }

  const std::vector<int>& left_;
  const std::vector<double>& lf_;
  See see_;
  std::vector<int> taken_, room_;
};

template <class See>
bool for_all_fillings(const std::vector<int>& left, int x, const std::vector<double>& lf, See see) {
  return Fillings<See>(left, lf, see).all(x);
}

class Network {
 public:
  Network(const Margins& m, double most_steps, double most_bytes, int threads, const Going& going)
      : problem_(m),
        most_steps_(most_steps),
        most_bytes_(most_bytes),
        threads_(threads),
        going_(going),
        caller_(std::this_thread::get_id()),
        asked_(std::chrono::steady_clock::now()),
        steps_(0),
        bytes_(0) {}

  ExactResult run() {
    const std::size_t k = problem_.columns.size();
    if (problem_.rows.size() < 2) return ExactResult{1.0, true, 0};
    if (!problem_.fits_a_key()) return ExactResult{0, false, 0};
    // a table that must go beyond the budget is not begun
    if (k > 2 && (problem_.nodes() * node_steps() * (k - 2) > 4 * most_steps_ ||
                  200 * problem_.nodes() > 4 * most_bytes_)) {
      return ExactResult{0, false, 0};
    }
    stage_.resize(1);
    stage_[0].left = problem_.rows;
    stage_[0].log_rest = problem_.log_rest(problem_.rows, 0);
    if (k == 2) {
      const bool listed = list_rest(stage_[0], 0);
      return ExactResult{listed ? std::min(1.0, stage_[0].tail.at_least(problem_.threshold)) : 0,
                         listed, steps_};
    }
    stage_[0].pasts.add(0.0, 1.0);
    double p = 0;
    for (std::size_t j = 0; j + 2 < k; ++j) {
      done_ = static_cast<double>(j) / (k - 2);
      const bool last =
          j + 3 == k;  // then pasts are not handed on, and every node is a task of its own
      if (!make_stage(j + 1, last)) return ExactResult{0, false, steps_};
      std::vector<double> gained(stage_.size(), 0.0);
      if (!each(stage_.size(), last ? threads_ : 1,
                [&](std::size_t i) { return pass_on(stage_[i], j, last, gained[i]); })) {
        return ExactResult{0, false, steps_};
      }
      for (double gain : gained) p += gain;  // in one order, whoever did the work
      stage_.swap(next_);
    }
    return ExactResult{std::min(1.0, p), true, steps_};
  }

 private:
  // Every node that can be there before column j is filled: rising, no row above its margin.
  bool make_stage(std::size_t j, bool with_tails) {
    next_.clear();
    places_.clear();
    bytes_ = 0;
    std::vector<int> node(problem_.rows.size());
    if (!nodes_from(node, 0, problem_.left[j], j)) return false;
    return each(next_.size(), threads_, [&](std::size_t i) {
      if (with_tails) return list_rest(next_[i], j);
      problem_.bound(next_[i], j);
      return true;
    });
  }

  bool nodes_from(std::vector<int>& node, std::size_t i, int x, std::size_t j) {
    const std::vector<int>& rows = problem_.rows;
    if (i == rows.size()) {
      if (x) return true;
      places_.emplace(problem_.key(node), next_.size());
      next_.emplace_back();
      next_.back().left = node;
      next_.back().log_rest = problem_.log_rest(node, j);
      bytes_ = bytes_ + 200;
      return bytes_ <= most_bytes_ && count(node_steps());
    }
    const int parts = static_cast<int>(rows.size() - i);
    for (int u = i ? node[i - 1] : 0, most = std::min(rows[i], x / parts); u <= most; ++u) {
      node[i] = u;
      if (!nodes_from(node, i + 1, x - u, j)) return false;
    }
    return true;
  }

  // With two columns left, all that can follow.
  bool list_rest(Node& node, std::size_t j) {
    std::vector<Past> list;
    const std::vector<double>& lf = problem_.lf;
    const bool all = for_all_fillings(
        node.left, problem_.columns[j], lf,
        [&](const std::vector<int>& taken, double S, double ways) {
          for (std::size_t i = 0; i < taken.size(); ++i) S += lf[node.left[i] - taken[i]];
          list.push_back(Past{S, ways * std::exp(-S - node.log_rest)});
          return 16.0 * list.size() <= most_bytes_ && (list.size() % 100000 || count(1e5));
        });
    if (!all || !count(static_cast<double>(list.size() % 100000))) return false;
    node.tail.make(list);
    node.low = node.tail.low;
    node.high = node.tail.high;
    return hold(node.tail.bytes());
  }

  // All ways to fill column j from a node: its pasts go on to the nodes that are reached, or are
  // added to p.
  bool pass_on(Node& node, std::size_t j, bool last, double& gained) {
    const std::vector<Past>& pasts = node.pasts.sorted();
    std::vector<double> after(pasts.size() + 1, 0.0);
    for (std::size_t i = pasts.size(); i-- > 0;) after[i] = after[i + 1] + pasts[i].probability;
    std::vector<int> sorted(node.left.size());
    double steps = 0, bytes = 0;
    if (pasts.empty()) return true;
    const bool all = for_all_fillings(
        node.left, problem_.columns[j], problem_.lf,
        [&](const std::vector<int>& taken, double S, double ways) {
          for (std::size_t i = 0; i < taken.size(); ++i) {  // sorted by insertion
            const int u = node.left[i] - taken[i];
            std::size_t at = i;
            for (; at > 0 && sorted[at - 1] > u; --at) sorted[at] = sorted[at - 1];
            sorted[at] = u;
          }
          Node& to = next_[places_.find(problem_.key(sorted))->second];
          const double chance = ways * std::exp(to.log_rest - node.log_rest - S),
                       threshold = problem_.threshold - S;
          const auto from = [&](double least) {
            return static_cast<std::size_t>(
                std::lower_bound(pasts.begin(), pasts.end(), least,
                                 [](const Past& a, double s) { return a.S < s; }) -
                pasts.begin());
          };
          const std::size_t whole = from(threshold - to.low),
                            some = std::min(whole, from(threshold - to.high));
          double sum = after[whole];
          if (last) {
            for (std::size_t i = some; i < whole; ++i)
              sum += pasts[i].probability * to.tail.at_least(threshold - pasts[i].S);
          } else {
            for (std::size_t i = some; i < whole; ++i)
              bytes += 28.0 * to.pasts.add(pasts[i].S + S, pasts[i].probability * chance);
          }
          gained += chance * sum;
          steps += 1.0 + static_cast<double>(whole - some);
          if (steps < 1e5) return true;
          const bool more = count(steps) && hold(bytes);
          steps = bytes = 0;
          return more;
        });
    return all && count(steps) && hold(bytes);
  }

  // Making a node and bounding what can follow it.
  double node_steps() const { return 10.0 + problem_.rows.size() + 2.0 * problem_.columns.size(); }

  bool count(double steps) { return add(steps_, steps) <= most_steps_ && may_go_on(); }

  // The caller's own thread asks, about ten times a second, whether to go on.
  bool may_go_on() {
    if (!going_ || std::this_thread::get_id() != caller_) return true;
    const auto now = std::chrono::steady_clock::now();
    if (now - asked_ < std::chrono::milliseconds(100)) return true;
    asked_ = now;
    return going_(std::max(done_, std::min(1.0, steps_.load() / most_steps_)));
  }
  bool hold(double bytes) { return add(bytes_, bytes) <= most_bytes_; }
  static double add(std::atomic<double>& to, double x) {
    double now = to.load();
    while (!to.compare_exchange_weak(now, now + x)) {
    }
    return now + x;
  }

  // Runs work(0..size-1) on threads; stops when one says false.
  template <class Work>
  static bool each(std::size_t size, int threads, Work work) {
    std::atomic<std::size_t> next(0);
    std::atomic<bool> going(true);
    auto run = [&]() {
      for (std::size_t i; going && (i = next.fetch_add(1)) < size;)
        if (!work(i)) going = false;
    };
    std::vector<std::thread> helpers;
    for (int t = 1; t < threads && size > 16; ++t) helpers.emplace_back(run);
    run();
    for (auto& helper : helpers) helper.join();
    return going;
  }

  Problem problem_;
  double most_steps_, most_bytes_;
  int threads_;
  Going going_;
  std::thread::id caller_;
  std::chrono::steady_clock::time_point asked_;
  double done_ = 0;
  std::atomic<double> steps_, bytes_;
  std::vector<Node> stage_, next_;
  std::unordered_map<std::uint64_t, std::size_t> places_;
};

// ---- random tables ----

std::uint64_t split_mix(std::uint64_t& state) {
  std::uint64_t z = (state += 0x9e3779b97f4a7c15ULL);
  z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ULL;
  z = (z ^ (z >> 27)) * 0x94d049bb133111ebULL;
  return z ^ (z >> 31);
}

// xoshiro256++ (Blackman & Vigna 2021).
class Stream {
 public:
  Stream(std::uint64_t seed, std::uint64_t number) {
    std::uint64_t state = seed;
    state = split_mix(state) ^ (number * 0xd1342543de82ef95ULL + 1);
    for (auto& s : s_) s = split_mix(state);
  }
  double uniform() {
    const std::uint64_t out = turn(s_[0] + s_[3], 23) + s_[0], t = s_[1] << 17;
    s_[2] ^= s_[0];
    s_[3] ^= s_[1];
    s_[1] ^= s_[2];
    s_[0] ^= s_[3];
    s_[2] ^= t;
    s_[3] = turn(s_[3], 45);
    return static_cast<double>(out >> 11) * 0x1.0p-53;
  }

 private:
  static std::uint64_t turn(std::uint64_t x, int k) { return (x << k) | (x >> (64 - k)); }
  std::uint64_t s_[4];
};

// How many of `draws` from `total` things, `marked` of them marked, are marked. Search outwards
// from the mode.
inline int hypergeometric(int total, int marked, int draws, const double* lf, Stream& stream) {
  const int least = std::max(0, draws - (total - marked)), most = std::min(draws, marked);
  if (least == most) return least;
  int mode = static_cast<int>((draws + 1.0) * (marked + 1.0) / (total + 2.0));
  mode = std::min(std::max(mode, least), most);
  const double at_mode =
      std::exp(lf[marked] - lf[mode] - lf[marked - mode] + lf[total - marked] - lf[draws - mode] -
               lf[total - marked - draws + mode] - lf[total] + lf[draws] + lf[total - draws]);
  for (;;) {  // again in the rare case that rounding leaves u beyond the sum
    double u = stream.uniform() - at_mode;
    if (u < 0) return mode;
    double up = at_mode, down = at_mode;
    int high = mode, low = mode;
    while (high < most || low > least) {
      if (high < most) {
        up *= static_cast<double>(draws - high) * (marked - high) /
              ((high + 1.0) * (total - marked - draws + high + 1.0));
        ++high;
        if ((u -= up) < 0) return high;
      }
      if (low > least) {
        down *= low * static_cast<double>(total - marked - draws + low) /
                (static_cast<double>(draws - low + 1) * (marked - low + 1));
        --low;
        if ((u -= down) < 0) return low;
      }
    }
  }
}

// Cell after cell, each hypergeometric given those before it (Patefield 1981).
// `see` gets every count.
template <class See>
void draw_table(const Margins& m, const double* lf, int n, Stream& stream,
                std::vector<int>& columns, See see) {
  columns = m.columns;
  int left = n;
  for (std::size_t i = 0; i + 1 < m.rows.size(); ++i) {
    int row = m.rows[i], total = left;
    for (std::size_t j = 0; j + 1 < columns.size(); ++j) {
      const int here = row ? hypergeometric(total, columns[j], row, lf, stream) : 0;
      see(here);
      total -= columns[j];
      columns[j] -= here;
      row -= here;
    }
    see(row);
    columns.back() -= row;
    left -= m.rows[i];
  }
  for (int rest : columns) see(rest);
}

int total_of(const Margins& m) { return std::accumulate(m.rows.begin(), m.rows.end(), 0); }

}  // namespace

ExactResult exact_test(const Margins& margins, double most_steps, double most_bytes, int threads,
                       const Going& going) {
  return Network(margins, most_steps, most_bytes, threads, going).run();
}

std::uint64_t count_random(const Margins& margins, std::uint64_t seed, int first, int last,
                           int threads) {
  const int n = total_of(margins);
  const std::vector<double> lf = log_factorials(n);
  std::atomic<int> chunk(first);
  std::atomic<std::uint64_t> hits(0);
  const double threshold = margins.observed - kTie;
  auto work = [&]() {
    std::vector<int> columns;
    for (int now; (now = chunk.fetch_add(1)) < last;) {
      Stream stream(seed, now);
      std::uint64_t mine = 0;
      for (int k = 0; k < kChunk; ++k) {
        double S = 0;
        draw_table(margins, lf.data(), n, stream, columns, [&](int x) { S += lf[x]; });
        mine += S >= threshold;
      }
      hits += mine;
    }
  };
  std::vector<std::thread> helpers;
  for (int t = 1; t < std::min(threads, last - first); ++t) helpers.emplace_back(work);
  work();
  for (auto& helper : helpers) helper.join();
  return hits;
}

std::vector<int> random_table(const Margins& margins, std::uint64_t seed, int number) {
  const int n = total_of(margins);
  const std::vector<double> lf = log_factorials(n);
  Stream stream(seed, number);
  std::vector<int> columns, out;
  draw_table(margins, lf.data(), n, stream, columns, [&](int x) { out.push_back(x); });
  return out;
}

}  // namespace fairlattice
