#include "chunked.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <cstdlib>
#include <cstring>
#include <thread>

#if defined(__SSE2__)
#include <emmintrin.h>
#endif
#if defined(__unix__) || defined(__APPLE__)
#define FAIRLATTICE_MAPS
#include <sys/mman.h>
#include <sys/stat.h>
#endif

#include "group_table.h"
#include "hash.h"

namespace fairlattice {
namespace {

const std::size_t kShards = 4;  // fixed, so that sums do not depend on the number of threads
const std::size_t kStates = 5;  // of Sign
const std::size_t kBatch = 128;
const std::size_t kStretch = 1u << 14;
const std::size_t kWholeDigits = 5;

const double kPowers[] = {1e0,  1e1,  1e2,  1e3,  1e4,  1e5,  1e6,  1e7,  1e8,  1e9,  1e10, 1e11,
                          1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22};

// Eight bytes that are the same.
constexpr std::uint64_t eight(unsigned char byte) { return byte * 0x0101010101010101ull; }

// The eight bytes from the first of a cell on, the first the lowest.
inline std::uint64_t eight_bytes(const TextCell& cell) {
  std::uint64_t word;
  std::memcpy(&word, cell.from, 8);
#if defined(__BYTE_ORDER__) && __BYTE_ORDER__ == __ORDER_BIG_ENDIAN__
  word = __builtin_bswap64(word);
#endif
  return word;
}

// The first bytes of a cell as a number, as many as it has, at most eight.
std::uint64_t first_bytes(const TextCell& cell) {
  const std::uint64_t word = eight_bytes(cell);
  return cell.size >= 8 ? word : word & ((1ull << (8 * cell.size)) - 1);
}

// The number of which the first bytes of a word are the digits, one to eight; false when they are
// none.
inline bool whole_number(std::uint64_t word, std::size_t digits, std::uint64_t& value) {
  if (digits == 0) return false;
  word <<= 64 - 8 * digits;  // with zeros in front
  if (digits < 8) word |= eight('0') >> (8 * digits);
  if (((word & eight(0xf0)) | ((word + eight(6)) & eight(0xf0)) >> 4) != eight(0x33)) return false;
  // pairs of digits, then pairs of those, then all eight
  word -= eight('0');
  word = 10 * word + (word >> 8);
  const std::uint64_t pairs = 0x000000ff000000ffull;
  value = ((word & pairs) * (100 + (1000000ull << 32)) +
           (word >> 16 & pairs) * (1 + (10000ull << 32))) >>
          32;
  return true;
}

// Where in a stretch of bytes a separator, the end of a line or anything unusual stands, in order.
class Marks {
 public:
  explicit Marks(char separator) {
    for (unsigned char c : {'\n', '\r', '"', '\0'}) marked_[c] = true;
    marked_[static_cast<unsigned char>(separator)] = true;
    separator_ = separator;
  }
  // How many there are; `out` has room for as many as there are bytes.
  std::size_t find(const char* from, std::size_t size, std::uint32_t* out) const {
    std::size_t i = 0, n = 0;
#if defined(__SSE2__)
    const __m128i separator = _mm_set1_epi8(separator_), line = _mm_set1_epi8('\n'),
                  back = _mm_set1_epi8('\r'), quote = _mm_set1_epi8('"'), nul = _mm_setzero_si128();
    const auto marks_at = [&](const char* at) {
      const __m128i x = _mm_loadu_si128(reinterpret_cast<const __m128i*>(at));
      const __m128i hit =
          _mm_or_si128(_mm_or_si128(_mm_cmpeq_epi8(x, separator), _mm_cmpeq_epi8(x, line)),
                       _mm_or_si128(_mm_or_si128(_mm_cmpeq_epi8(x, back), _mm_cmpeq_epi8(x, quote)),
                                    _mm_cmpeq_epi8(x, nul)));
      return static_cast<std::uint64_t>(_mm_movemask_epi8(hit));
    };
    // 64 bytes at a time, for the processor guesses wrong at the end of every inner loop
    for (; i + 64 <= size; i += 64) {
      const char* at = from + i;
      std::uint64_t mask = marks_at(at) | marks_at(at + 16) << 16 | marks_at(at + 32) << 32 |
                           marks_at(at + 48) << 48;
      for (; mask; mask &= mask - 1)
        out[n++] =
            static_cast<std::uint32_t>(i) + static_cast<std::uint32_t>(__builtin_ctzll(mask));
    }
#endif
    for (; i < size; ++i)
      if (marked_[static_cast<unsigned char>(from[i])]) out[n++] = static_cast<std::uint32_t>(i);
    return n;
  }

 private:
  bool marked_[256] = {false};
  char separator_;
};

// Texts by their codes, 1, 2, ... in the order in which they came.
class Texts {
 public:
  Texts() : slots_(64), brief_(1u << 16, 0) {}

  int code(const TextCell& cell) {
    if (cell.size == 0) return 0;
    if (cell.size > 2) return cell.size <= kWholeDigits ? longer(cell) : slow(cell);
    const std::size_t first = static_cast<unsigned char>(cell.from[0]);
    const std::size_t second = cell.size == 2 ? static_cast<unsigned char>(cell.from[1]) : 0;
    const std::size_t at = first | second << 8;
    if (!brief_[at]) brief_[at] = slow(cell);
    return brief_[at];
  }
  int add(const std::string& text) {
    all_.push_back(text);
    return static_cast<int>(all_.size());
  }
  std::string& operator[](int code) { return all_[code - 1]; }
  const std::vector<std::string>& all() const { return all_; }

 private:
  struct Slot {
    std::uint64_t hash = 0;
    int code = 0;
  };

  // Whole numbers of few digits, such as clusters have, stand at their own places.
  int longer(const TextCell& cell) {
    std::uint64_t whole;
    if (*cell.from == '0' || !whole_number(eight_bytes(cell), cell.size, whole)) return slow(cell);
    if (whole >= whole_.size())
      whole_.resize(cell.size == 3 ? 1000 : cell.size == 4 ? 10000 : 100000);
    if (!whole_[whole]) whole_[whole] = slow(cell);
    return whole_[whole];
  }

  // Up to seven bytes are a number of their own, and need no look at the text.
  int slow(const TextCell& cell) {
    const bool brief = cell.size < 8;
    const std::uint64_t hash = brief
                                   ? first_bytes(cell) | static_cast<std::uint64_t>(cell.size) << 56
                                   : hash_of(cell.from, cell.size) | 0xffull << 56;
    std::size_t at = mixed(hash) & (slots_.size() - 1);
    for (; slots_[at].code; at = (at + 1) & (slots_.size() - 1)) {
      if (slots_[at].hash != hash) continue;
      const std::string& text = all_[slots_[at].code - 1];
      if (brief || (text.size() == cell.size && !std::memcmp(text.data(), cell.from, cell.size)))
        return slots_[at].code;
    }
    const int code = add(std::string(cell.from, cell.size));
    slots_[at] = {hash, code};
    if (++used_ * 2 > slots_.size()) grow();
    return code;
  }

  void grow() {
    std::vector<Slot> old(slots_.size() * 2);
    old.swap(slots_);
    for (const Slot& slot : old) {
      if (!slot.code) continue;
      std::size_t at = mixed(slot.hash) & (slots_.size() - 1);
      while (slots_[at].code) at = (at + 1) & (slots_.size() - 1);
      slots_[at] = slot;
    }
  }

  std::vector<std::string> all_;
  std::vector<Slot> slots_;
  std::vector<int> brief_;  // codes of texts of one or two bytes
  std::vector<int> whole_;  // codes of whole numbers of three to five digits
  std::size_t used_ = 0;
};

// A number of at most eight bytes, all of them at once: digits, and at most one decimal
// mark among them.
inline bool brief_number(const TextCell& cell, char decimal, double& value) {
  std::size_t digits = cell.size, fraction = 0;
  if (digits > 8 || (digits > 1 && cell.from[0] == '0' && cell.from[1] != decimal)) return false;
  std::uint64_t word = eight_bytes(cell);
  const std::uint64_t apart = word ^ eight(static_cast<unsigned char>(decimal));
  const std::uint64_t mark = (apart - eight(1)) & ~apart & eight(0x80);  // exact up to the first
  const int before = mark ? __builtin_ctzll(mark) & ~7 : 64;  // bits of the bytes before it
  if (static_cast<std::size_t>(before) < 8 * digits) {
    const std::uint64_t low = (1ull << before) - 1;
    word = (word & low) | (word >> 8 & ~low);
    digits -= 1;
    fraction = digits - static_cast<std::size_t>(before) / 8;
  }
  std::uint64_t whole;
  if (!whole_number(word, digits, whole)) return false;
  value = static_cast<double>(whole) / kPowers[fraction];
  return true;
}

// A number as records write it; false for anything else, and for whole numbers that
// cannot be held exactly.
bool number_of(const TextCell& cell, char decimal, double& value) {
  if (brief_number(cell, decimal, value)) return true;
  const char *p = cell.from, *end = p + cell.size;
  const bool minus = p < end && *p == '-';
  if (p < end && (*p == '-' || *p == '+')) ++p;
  if (end - p > 1 && p[0] == '0' && p[1] >= '0' && p[1] <= '9') return false;  // 007 is no number
  std::uint64_t digits = 0;
  int kept = 0, scale = 0, seen = 0;
  for (bool fraction = false; p < end; ++p) {
    if (*p == decimal && !fraction) {
      fraction = true;
    } else if (*p >= '0' && *p <= '9') {
      ++seen;
      if (kept < 18) {
        digits = digits * 10 + static_cast<std::uint64_t>(*p - '0');
        if (digits) ++kept;
        scale -= fraction;
      } else {
        kept = 19;  // more than can be held here: the long way
        scale += !fraction;
      }
    } else {
      break;
    }
  }
  if (!seen) return false;
  bool exponent = false;
  if (p < end && (*p == 'e' || *p == 'E')) {
    const char* q = p + 1;
    if (q < end && (*q == '-' || *q == '+')) ++q;
    if (q == end) return false;
    for (const char* r = q; r < end; ++r)
      if (*r < '0' || *r > '9') return false;
    exponent = true;
  } else if (p < end) {
    return false;
  }
  if (!exponent && kept <= 15 && scale >= -22) {
    value = static_cast<double>(digits) / kPowers[-scale];
    if (minus) value = -value;
  } else {
    std::string text(cell.from, cell.size);
    if (decimal != '.') std::replace(text.begin(), text.end(), decimal, '.');
    value = std::strtod(text.c_str(), nullptr);
  }
  return std::fabs(value) < 9007199254740992.0;
}

enum class Record { complete, incomplete, fault };

// One record, character by character, by the rule of delimited.h. `cells` are the texts of its
// cells; `lines` counts the lines that it goes over. At the end of everything (`last`) an open
// record is complete.
struct Careful {
  std::vector<std::string> cells;
  double lines = 0, opened = 0;
  Fault fault = Fault::none;
  const char* after = nullptr;
  bool blank = false;

  Record read(const char* p, const char* end, char separator, bool last) {
    enum class At { start, bare, quoted, quote, closed } at = At::start;
    cells.clear();
    lines = 0;
    fault = Fault::none;
    bool started = false;
    std::string cell;
    const auto space = [&](char c) { return c == ' ' || (c == '\t' && separator != '\t'); };
    const auto close = [&] {
      if (at != At::closed && at != At::quote)
        while (!cell.empty() && space(cell.back())) cell.pop_back();
      cells.push_back(cell);
      cell.clear();
    };
    for (; p < end; ++p) {
      const char c = *p;
      if (c == '\0') return failed(Fault::nul, lines);
      if (at == At::quoted) {
        if (c == '"') {
          at = At::quote;
        } else {
          lines += c == '\n';
          cell.push_back(c);
        }
        continue;
      }
      if (at == At::quote) {
        if (c == '"') {
          cell.push_back(c);
          at = At::quoted;
          continue;
        }
        at = At::closed;
      }
      if (c == separator) {
        close();
        at = At::start;
        started = true;
        continue;
      }
      if (c == '\n' || c == '\r') {
        if (c == '\r' && p + 1 == end && !last)
          return Record::incomplete;  // the line end may go on
        blank = cells.empty() && at == At::start;
        close();
        after = p + 1 + (c == '\r' && p + 1 < end && p[1] == '\n');
        lines += 1;
        return Record::complete;
      }
      started = true;
      if (at == At::closed) {
        if (space(c)) continue;
        return failed(Fault::after_quote, lines);
      }
      if (at == At::start) {
        if (space(c)) continue;
        if (c == '"') {
          at = At::quoted;
          opened = lines;
          continue;
        }
        at = At::bare;
      }
      cell.push_back(c);
    }
    if (!last) return Record::incomplete;
    if (at == At::quoted) return failed(Fault::unclosed, opened);
    blank = !started && cells.empty();
    close();
    after = end;
    lines += 1;
    return Record::complete;
  }

 private:
  Record failed(Fault what, double line) {
    fault = what;
    opened = line;
    return Record::fault;
  }
};

}  // namespace

// Records of one piece of a file, and what was found in them.
struct Chunked::Piece {
  std::vector<char> bytes;  // its own, where it does not lie in memory as a part of the file
  const char* begin = nullptr;
  std::size_t held = 0;  // bytes from there on
  std::size_t size = 0;  // bytes of whole records
  bool last = false;
  double records = 0, blank = 0, lines = 0;
  ChunkFault fault;
};

// Groups of the pieces that one worker takes: dictionaries and sums of its own.
struct Chunked::Shard {
  const ChunkPlan& plan;
  std::vector<Texts> texts;
  std::vector<std::vector<int>>
      between;  // for a key with cuts: the code of each place between them
  struct Table {
    std::vector<std::size_t> keys;
    std::vector<int> bits;
    GroupTable found;
    std::vector<double> records;     // of each group, where a record has a count; else it is n
    std::vector<double> replicates;  // those of a group beside each other
  };
  std::vector<Table> tables;
  std::vector<int> codes;
  std::vector<double> numbers;
  std::vector<std::size_t> used;  // columns
  Marks marks;
  JsonLine json;
  std::vector<std::uint32_t> places;
  Careful careful;
  struct {
    std::size_t size = 0;
    std::vector<int> codes;
    std::vector<double> replicates;
    std::uint64_t state[kBatch], key[kBatch];
    double w[kBatch], n[kBatch];
  } waiting;
  std::string odd_text;
  double odd_line = 0;
  int odd_column = -1;
  bool too_many = false;

  explicit Shard(const ChunkPlan& p)
      : plan(p),
        texts(p.keys.size()),
        between(p.keys.size()),
        codes(p.keys.size()),
        marks(p.separator),
        json(p.json) {
    for (const KeyColumn& key : p.keys) used.push_back(key.column);
    for (int column : {p.weight, p.count})
      if (column >= 0) used.push_back(static_cast<std::size_t>(column));
    for (int column : p.replicates) used.push_back(static_cast<std::size_t>(column));
    std::sort(used.begin(), used.end());
    used.erase(std::unique(used.begin(), used.end()), used.end());
    for (std::size_t k = 0; k < p.keys.size(); ++k)
      if (p.keys[k].cut) between[k].assign(2 * (p.keys[k].cuts.size() + 1), 0);
    for (const auto& set : p.sets) {
      Table table;
      table.keys = set;
      table.bits.assign(set.size(), 4);
      tables.push_back(table);
    }
    numbers.resize(p.replicates.size());
    waiting.codes.resize(kBatch * codes.size());
    waiting.replicates.resize(kBatch * numbers.size());
  }

  // The code of a cell by the place between cuts.
  int code_between(std::size_t k, const TextCell& cell) {
    const KeyColumn& key = plan.keys[k];
    double value;
    if (cell.size == 0 || !number_of(cell, plan.decimal, value)) return texts[k].code(cell);
    for (double apart : key.apart)
      if (value == apart) return texts[k].code(cell);
    std::size_t place = 0;
    while (place < key.cuts.size() && (key.cuts[place].second ? value > key.cuts[place].first
                                                              : value >= key.cuts[place].first))
      ++place;
    int& code = between[k][2 * place + (value != std::floor(value))];
    if (!code) code = texts[k].add(std::string(cell.from, cell.size));
    return code;
  }

  // How JSON that was written by R says a number that is missing.
  bool is_missing_number(const TextCell& cell) const {
    if (plan.json.empty() || *cell.from != '"') return false;
    const std::string text(cell.from, cell.size);
    return text == "\"NA\"" || text == "\"NaN\"";
  }

  Sign number_at(const TextCell& cell, int column, double line, double& value) {
    value = 0;
    if (cell.size == 0 || is_missing_number(cell)) return Sign::missing;
    if (!number_of(cell, plan.decimal, value)) {
      if (odd_column < 0) {
        odd_column = column;
        odd_text.assign(cell.from, cell.size);
        odd_line = line;
      }
      value = 0;
      return Sign::no_number;
    }
    return value > 0 ? Sign::positive : value < 0 ? Sign::negative : Sign::zero;
  }

  void add(const TextCell* cells, double line) {
    int* own = waiting.codes.data() + waiting.size * codes.size();
    for (std::size_t k = 0, size = codes.size(); k < size; ++k) {
      const TextCell& cell = cells[plan.keys[k].column];
      own[k] = plan.keys[k].cut ? code_between(k, cell) : texts[k].code(cell);
    }
    double w = 1, n = 1;
    Sign weight = Sign::positive, count = Sign::positive;
    if (plan.weight >= 0) weight = number_at(cells[plan.weight], plan.weight, line, w);
    if (plan.count >= 0) count = number_at(cells[plan.count], plan.count, line, n);
    bool there = true;
    double* replicates = waiting.replicates.data() + waiting.size * numbers.size();
    for (std::size_t r = 0; r < numbers.size(); ++r)
      if (number_at(cells[plan.replicates[r]], plan.replicates[r], line, replicates[r]) ==
          Sign::missing)
        there = false;
    waiting.state[waiting.size] =
        (static_cast<std::uint64_t>(weight) * kStates + static_cast<std::uint64_t>(count)) * 2 +
        there;
    waiting.w[waiting.size] = w;
    waiting.n[waiting.size] = n;
    if (++waiting.size == kBatch) flush();
  }

  // Records are added some at a time.
  void flush() {
    for (Table& table : tables) {
      for (std::size_t i = 0; i < waiting.size; ++i) waiting.key[i] = key_of(table, i);
      table.found.each(waiting.key, waiting.size, [&](std::size_t i, std::size_t place) {
        const double w = waiting.w[i], n = waiting.n[i];
        add_to(table, place, 1, n, n * w, n * w * w);
        for (std::size_t r = 0; r < numbers.size(); ++r)
          table.replicates[place * numbers.size() + r] +=
              n * waiting.replicates[i * numbers.size() + r];
      });
      too_many = too_many || table.found.groups.size() > plan.most_groups;
    }
    waiting.size = 0;
  }

  // The sums of a group, for which there is room when it is new.
  void add_to(Table& table, std::size_t place, double records, double n, double w, double w2) {
    Group& to = table.found.groups[place];
    to.n += n;
    to.w += w;
    to.w2 += w2;
    if (plan.count >= 0) {
      table.records.resize(table.found.groups.size());
      table.records[place] += records;
    }
    if (!numbers.empty()) table.replicates.resize(table.found.groups.size() * numbers.size());
  }

  // The codes of a waiting record as one number. When a key has more texts than its bits can tell
  // apart, all groups are packed anew, and so are the records that have been packed before.
  std::uint64_t key_of(Table& table, std::size_t i) {
    std::uint64_t key;
    for (std::size_t k; (k = packed(table, i, key)) < table.keys.size();) {
      if (!widen(table, k)) {
        waiting.codes[i * codes.size() + table.keys[k]] = 0;
        continue;
      }
      for (std::size_t j = 0; j < i; ++j) packed(table, j, waiting.key[j]);
    }
    return key;
  }

  // Which code there is no room for; as many as there are keys when there is for all.
  std::size_t packed(const Table& table, std::size_t i, std::uint64_t& key) const {
    const int* own = waiting.codes.data() + i * codes.size();
    key = waiting.state[i];
    int shift = 6;
    for (std::size_t k = 0, size = table.keys.size(); k < size; ++k) {
      const int code = own[table.keys[k]], bits = table.bits[k];
      if (code >> bits) return k;
      key |= static_cast<std::uint64_t>(code) << shift;
      shift += bits;
    }
    return table.keys.size();
  }

  // The groups of another, whose texts have codes of their own.
  void absorb(const Shard& other) {
    std::vector<std::vector<int>> here(texts.size());
    for (std::size_t k = 0; k < texts.size(); ++k) {
      const std::vector<std::string>& all = other.texts[k].all();
      here[k].assign(all.size() + 1, 0);
      for (std::size_t place = 0; place < between[k].size(); ++place) {
        const int theirs = other.between[k][place];
        if (!theirs) continue;
        if (!between[k][place]) between[k][place] = texts[k].add(all[theirs - 1]);
        here[k][theirs] = between[k][place];
      }
      for (std::size_t code = 1; code <= all.size(); ++code) {
        if (here[k][code]) continue;
        const std::string text = all[code - 1] + std::string(kSlack, '\0');
        here[k][code] = texts[k].code({text.data(), all[code - 1].size()});
      }
    }
    std::vector<int> theirs;
    for (std::size_t t = 0; t < tables.size(); ++t) {
      Table& table = tables[t];
      const Table& from = other.tables[t];
      const std::vector<Group>& all = from.found.groups;
      for (std::size_t first = 0; first < all.size(); first += kBatch) {
        const Group* groups = all.data() + first;
        const std::size_t size = std::min(kBatch, all.size() - first);
        for (std::size_t i = 0; i < size; ++i) {
          unpack(groups[i].key, from.bits, theirs);
          waiting.state[i] = groups[i].key & 63;
          for (std::size_t k = 0; k < theirs.size(); ++k)
            waiting.codes[i * codes.size() + table.keys[k]] = here[table.keys[k]][theirs[k]];
          waiting.key[i] = key_of(table, i);
        }
        table.found.each(waiting.key, size, [&](std::size_t i, std::size_t place) {
          add_to(table, place, plan.count >= 0 ? from.records[first + i] : 0, groups[i].n,
                 groups[i].w, groups[i].w2);
          for (std::size_t r = 0; r < numbers.size(); ++r)
            table.replicates[place * numbers.size() + r] +=
                from.replicates[(first + i) * numbers.size() + r];
        });
      }
      too_many = too_many || table.found.groups.size() > plan.most_groups;
    }
    too_many = too_many || other.too_many;
  }

  // False when there are more combinations than a number can tell apart.
  bool widen(Table& table, std::size_t k) {
    const std::vector<int> old = table.bits;
    int all = 6;
    for (int bits : table.bits) all += bits;
    if (all + 2 > 64) {
      too_many = true;
      return false;
    }
    table.bits[k] += 2;
    std::vector<int> own;
    for (Group& group : table.found.groups) {
      std::uint64_t& key = group.key;
      unpack(key, old, own);
      key &= 63;
      int shift = 6;
      for (std::size_t j = 0; j < own.size(); ++j) {
        key |= static_cast<std::uint64_t>(own[j]) << shift;
        shift += table.bits[j];
      }
    }
    table.found.place();
    return true;
  }

  static void unpack(std::uint64_t key, const std::vector<int>& bits, std::vector<int>& codes) {
    codes.resize(bits.size());
    key >>= 6;
    for (std::size_t k = 0; k < bits.size(); ++k) {
      codes[k] = static_cast<int>(key & ((1ull << bits[k]) - 1));
      key >>= bits[k];
    }
  }

  // The cell between two places, without the spaces round it.
  TextCell trimmed(const char* from, const char* to) const {
    const auto space = [this](char c) { return c == ' ' || (c == '\t' && plan.separator != '\t'); };
    while (from < to && space(*from)) ++from;
    while (from < to && space(to[-1])) --to;
    return {from, static_cast<std::size_t>(to - from)};
  }

  void take(Piece& piece) {
    if (plan.json.empty()) {
      take_delimited(piece);
    } else {
      take_lines(piece);
    }
    flush();
    piece.fault.too_many = too_many;
  }

  void take_lines(Piece& piece) {
    const char *p = piece.begin, *end = p + piece.size;
    std::vector<TextCell> cells(plan.width);
    for (; p < end && !too_many; ++p, piece.lines += 1) {
      const char* stop = static_cast<const char*>(std::memchr(p, '\n', end - p));
      if (!stop) stop = end;
      const JsonLine::Is is = json.read(p, stop, cells.data());
      if (is == JsonLine::Is::fault) {
        piece.fault.fault = Fault::no_json;
        piece.fault.line = piece.lines;
        return;
      }
      (is == JsonLine::Is::blank ? piece.blank : piece.records) += 1;
      if (is == JsonLine::Is::record) add(cells.data(), piece.lines);
      p = stop;
    }
  }

  // A piece is gone through stretch by stretch: where its separators are is found for a whole
  // stretch at a time. A record of plain cells has as many of them as there are columns; whatever
  // has not is read with care.
  void take_delimited(Piece& piece) {
    const std::size_t width = plan.width;
    const char *begin = piece.begin, *end = begin + piece.size;
    std::size_t stretch = kStretch;
    std::vector<TextCell> cells(width);
    while (begin < end && !too_many) {
      const char* const origin = begin;
      const std::size_t size = std::min<std::size_t>(stretch, end - begin);
      places.resize(size);
      const std::size_t known = marks.find(origin, size, places.data());
      const bool last = origin + size == end;
      for (std::size_t at = 0; begin < origin + size;) {
        const std::size_t ends = plain_record(origin, at, known);
        if (ends) {
          for (std::size_t k : used)
            cells[k] =
                trimmed(k ? origin + places[at + k - 1] + 1 : begin, origin + places[at + k]);
          begin = origin + places[at + ends - 1] + 1;
          at += ends;
          add(cells.data(), piece.lines);
          piece.records += 1;
          piece.lines += 1;
          continue;
        }
        if (at + width >= known && !last)
          break;  // the rest of this record lies in the next stretch
        if (!careful_record(piece, begin, end, cells)) return;
        while (at < known && origin + places[at] < begin) ++at;
      }
      stretch = begin == origin ? 2 * stretch : kStretch;
    }
  }

  // How many marks a record of plain cells goes over, from the one at `at`; 0 when it is
  // not such a record.
  std::size_t plain_record(const char* origin, std::size_t at, std::size_t known) const {
    const std::size_t width = plan.width;
    if (at + width > known) return 0;
    const std::uint32_t* mark = places.data() + at;
    for (std::size_t k = 0; k + 1 < width; ++k)
      if (origin[mark[k]] != plan.separator) return 0;
    if (origin[mark[width - 1]] == '\n') return width;
    const bool two = origin[mark[width - 1]] == '\r' && at + width < known &&
                     mark[width] == mark[width - 1] + 1 && origin[mark[width]] == '\n';
    return two ? width + 1 : 0;
  }

  // One record of any kind, from `begin`, which goes on to the next; false at a fault.
  bool careful_record(Piece& piece, const char*& begin, const char* end,
                      std::vector<TextCell>& cells) {
    if (careful.read(begin, end, plan.separator, true) == Record::fault) {
      piece.fault.fault = careful.fault;
      piece.fault.line = piece.lines + careful.opened;
      return false;
    }
    begin = careful.after;
    if (careful.blank) {
      piece.blank += 1;
    } else if (careful.cells.size() != plan.width) {
      piece.fault.fault = Fault::ragged;
      piece.fault.line = piece.lines;
      piece.fault.cells = static_cast<double>(careful.cells.size());
      return false;
    } else {
      for (std::size_t k : used) {
        const std::size_t size = careful.cells[k].size();
        careful.cells[k].append(kSlack, '\0');
        cells[k] = {careful.cells[k].data(), size};
      }
      add(cells.data(), piece.lines);
      piece.records += 1;
    }
    piece.lines += careful.lines;
    return true;
  }
};

Chunked::Chunked(const ChunkPlan& plan) : plan_(plan) {
  for (std::size_t s = 0; s < kShards; ++s) {
    shards_.push_back(new Shard(plan_));
    ready_.push_back(new Piece);
    next_.push_back(new Piece);
  }
}

Chunked::~Chunked() {
  close();
  for (auto* shard : shards_) delete shard;
  for (auto* piece : ready_) delete piece;
  for (auto* piece : next_) delete piece;
}

void Chunked::close() {
#ifdef FAIRLATTICE_MAPS
  if (map_) munmap(map_, map_size_);
#endif
  map_ = nullptr;
  if (file_) std::fclose(file_);
  file_ = nullptr;
}

// The whole file as memory, where the system can; otherwise it is read piece by piece.
void Chunked::map() {
#ifdef FAIRLATTICE_MAPS
  struct stat about;
  if (fstat(fileno(file_), &about) != 0 || !S_ISREG(about.st_mode) || about.st_size <= 0) return;
  map_size_ = static_cast<std::size_t>(about.st_size);
  void* map = mmap(nullptr, map_size_, PROT_READ, MAP_PRIVATE, fileno(file_), 0);
  if (map == MAP_FAILED) return;
  madvise(map, map_size_, MADV_SEQUENTIAL);
  map_ = static_cast<char*>(map);
  at_ = static_cast<std::size_t>(bytes_);
  let_go_ = 0;
#endif
}

bool Chunked::open(const char* path, std::size_t piece, bool mapped) {
  close();
  file_ = std::fopen(path, "rb");
  if (!file_) return false;
  rest_.clear();
  bytes_ = 0;
  line_ = 1;
  piece_ = piece;
  ended_ = false;
  fault_ = ChunkFault();
  if (plan_.json.empty()) past_header();
  if (mapped) map();
  for (Piece* one : ready_) fill(*one);
  return true;
}

// Past the byte-order mark and the header, which may go over several lines.
void Chunked::past_header() {
  std::vector<char> head(1 << 16);
  for (;;) {
    std::rewind(file_);
    std::size_t size = std::fread(head.data(), 1, head.size(), file_);
    const bool all = size < head.size();
    std::size_t from = size >= 3 && !std::memcmp(head.data(), "\xef\xbb\xbf", 3) ? 3 : 0;
    Careful careful;
    const Record read = careful.read(head.data() + from, head.data() + size, plan_.separator, all);
    if (read == Record::complete) {
      line_ += careful.lines;
      bytes_ = static_cast<double>(careful.after - head.data());
      std::fseek(file_, static_cast<long>(bytes_), SEEK_SET);
      break;
    }
    if (read == Record::fault) {
      fault_.fault = careful.fault;
      fault_.line = 1 + careful.opened;
      break;
    }
    head.resize(head.size() * 2);
  }
}

// The next piece of the file, up to its last whole record.
bool Chunked::fill(Piece& piece) {
  piece.size = 0;
  piece.records = piece.blank = piece.lines = 0;
  piece.fault = ChunkFault();
  piece.last = false;
  if (ended_ || !file_) return false;
  if (map_) return fill_mapped(piece);
  piece.bytes.assign(rest_.begin(), rest_.end());
  rest_.clear();
  for (std::size_t want = piece_;; want *= 2) {
    // one byte more tells whether the file ends here
    const std::size_t had = piece.bytes.size();
    if (had <= want) {
      piece.bytes.resize(want + 1);
      piece.bytes.resize(had + std::fread(piece.bytes.data() + had, 1, want + 1 - had, file_));
      if (std::ferror(file_)) {
        piece.fault.fault = Fault::unreadable;
        ended_ = true;
        return false;
      }
    }
    piece.begin = piece.bytes.data();
    if (cut_off(piece, want, piece.bytes.size())) break;
  }
  rest_.assign(piece.bytes.begin() + piece.size, piece.bytes.end());
  piece.bytes.resize(piece.bytes.size() + kSlack);
  piece.begin = piece.bytes.data();
  return true;
}

// The same of a file that is mapped; what lies at its end is copied, for the bytes behind a cell.
bool Chunked::fill_mapped(Piece& piece) {
  piece.begin = map_ + at_;
  const std::size_t left = map_size_ - at_;
  for (std::size_t want = piece_; !cut_off(piece, want, left);) want *= 2;
  at_ += piece.size;
  if (at_ + kSlack > map_size_) {
    piece.bytes.assign(piece.begin, piece.begin + piece.size);
    piece.bytes.resize(piece.size + kSlack);
    piece.begin = piece.bytes.data();
  }
  return true;
}

// Cuts a piece of at most `want` bytes off the `left` that there are to see; false when no record
// ends there.
bool Chunked::cut_off(Piece& piece, std::size_t want, std::size_t left) {
  piece.last = ended_ = want >= left;
  piece.held = std::min(want, left);
  if (piece.last) piece.size = piece.held;
  return piece.last || whole_records(piece);
}

// Sets `size` to the end of the last whole record; false when there is none.
bool Chunked::whole_records(Piece& piece) {
  const char *begin = piece.begin, *end = begin + piece.held;
  if (!plan_.json.empty() || !std::memchr(begin, '"', piece.held)) {
    const char* stop = end;
    while (stop > begin && stop[-1] != '\n') --stop;
    piece.size = stop - begin;
    return piece.size > 0;
  }
  Careful careful;
  const char* p = begin;
  while (p < end) {
    const char* stop = static_cast<const char*>(std::memchr(p, '\n', end - p));
    const bool simple = stop && !std::memchr(p, '"', stop - p);
    if (simple) {
      p = stop + 1;
      continue;
    }
    if (careful.read(p, end, plan_.separator, false) == Record::incomplete) break;
    if (careful.fault != Fault::none) {  // it is told where the piece is taken
      piece.size = end - begin;
      return true;
    }
    p = careful.after;
  }
  piece.size = p - begin;
  return piece.size > 0;
}

// What was taken is no more held in memory; the system may keep it for others.
void Chunked::let_go() {
#ifdef FAIRLATTICE_MAPS
  const std::size_t unit = 1u << 20;  // a multiple of every system's pages
  const std::size_t taken = static_cast<std::size_t>(bytes_) / unit * unit;
  if (!map_ || taken <= let_go_) return;
  madvise(map_ + let_go_, taken - let_go_, MADV_DONTNEED);
  let_go_ = taken;
#endif
}

bool Chunked::step() {
  if (fault_.fault != Fault::none || fault_.too_many) return false;
  // the next pieces are looked up, or read, while these are taken
  in_turn(
      kShards, [this](std::size_t s) { shards_[s]->take(*ready_[s]); },
      [this] {
        for (Piece* piece : next_) fill(*piece);
      });
  bool any = false;
  for (std::size_t s = 0; s < kShards; ++s) {
    Piece& piece = *ready_[s];
    if (shards_[s]->odd_column >= 0 && odd_column_ < 0) {
      odd_column_ = shards_[s]->odd_column;
      odd_text_ = shards_[s]->odd_text;
      odd_line_ = line_ + shards_[s]->odd_line;
    }
    if (piece.fault.fault != Fault::none || piece.fault.too_many) {
      fault_ = piece.fault;
      fault_.line += line_;
      return false;
    }
    records_ += piece.records;
    blank_ += piece.blank;
    line_ += piece.lines;
    bytes_ += static_cast<double>(piece.size);
  }
  let_go();
  ready_.swap(next_);
  for (Piece* piece : ready_) {
    any = any || piece->size > 0;
    if (piece->fault.fault != Fault::none) fault_ = piece->fault;
  }
  return any && fault_.fault == Fault::none;
}

bool Chunked::gather() {
  in_turn(kShards / 2, [this](std::size_t s) { shards_[2 * s]->absorb(*shards_[2 * s + 1]); });
  shards_[0]->absorb(*shards_[2]);
  for (std::size_t s = 1; s < kShards; ++s) {
    delete shards_[s];
    shards_[s] = new Shard(plan_);
  }
  return !shards_[0]->too_many;
}

// So many works on all threads; `meanwhile` is done before this one takes its share.
void Chunked::in_turn(std::size_t works, const std::function<void(std::size_t)>& work,
                      const std::function<void()>& meanwhile) {
  std::atomic<std::size_t> turn{0};
  const auto share = [&] {
    for (std::size_t one; (one = turn++) < works;) work(one);
  };
  std::vector<std::thread> pool;
  const std::size_t workers = std::min<std::size_t>(std::max(plan_.threads, 1), works);
  for (std::size_t k = 1; k < workers; ++k) pool.emplace_back(share);
  if (meanwhile) meanwhile();
  share();
  for (auto& thread : pool) thread.join();
}

std::vector<std::vector<std::string>> Chunked::texts() const {
  std::vector<std::vector<std::string>> out;
  for (const Texts& texts : shards_[0]->texts) out.push_back(texts.all());
  return out;
}

std::vector<Groups> Chunked::groups() const {
  std::vector<Groups> out(plan_.sets.size());
  std::vector<int> codes;
  for (std::size_t t = 0; t < out.size(); ++t) {
    const Shard::Table& from = shards_[0]->tables[t];
    const std::size_t size = from.found.groups.size(), replicates = plan_.replicates.size();
    Groups& to = out[t];
    to.codes.assign(from.keys.size(), std::vector<int>(size));
    to.replicates.assign(replicates, std::vector<double>(size));
    for (std::vector<int>* one : {&to.weight, &to.count}) one->resize(size);
    for (std::vector<double>* one : {&to.records, &to.n, &to.w, &to.w2}) one->resize(size);
    to.replicates_there.resize(size);
    for (std::size_t g = 0; g < size; ++g) {
      const Group& group = from.found.groups[g];
      Shard::unpack(group.key, from.bits, codes);
      for (std::size_t k = 0; k < codes.size(); ++k) to.codes[k][g] = codes[k];
      const std::uint64_t state = group.key & 63;
      to.replicates_there[g] = state % 2;
      to.count[g] = static_cast<int>(state / 2 % kStates);
      to.weight[g] = static_cast<int>(state / 2 / kStates);
      to.records[g] = plan_.count >= 0 ? from.records[g] : group.n;
      to.n[g] = group.n;
      to.w[g] = group.w;
      to.w2[g] = group.w2;
      for (std::size_t r = 0; r < replicates; ++r)
        to.replicates[r][g] = from.replicates[g * replicates + r];
    }
  }
  return out;
}

std::vector<double> lines_with(const char* path, char separator, std::size_t column,
                               const std::string& text, std::size_t most) {
  std::vector<double> out;
  std::FILE* file = std::fopen(path, "rb");
  if (!file) return out;
  std::vector<double> records;
  const Delimited read = scan_delimited(
      file, separator, true, [&](std::size_t record, std::size_t k, const std::string& cell) {
        if (k == column && records.size() < most && cell == text)
          records.push_back(static_cast<double>(record) + 1);
      });
  std::fclose(file);
  for (double record : records)
    out.push_back(read.lines.empty() ? record + 1
                                     : read.lines[static_cast<std::size_t>(record) - 1]);
  return out;
}

}  // namespace fairlattice
