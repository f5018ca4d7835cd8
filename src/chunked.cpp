#include "chunked.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <cstring>
#include <thread>

namespace fairlattice {
namespace {

const std::size_t kShards = 2;  // fixed, so that sums do not depend on the number of threads
const std::size_t kStates = 5;  // of Sign

std::uint64_t mixed(std::uint64_t x) {
  x ^= x >> 32;
  x *= 0xd6e8feb86659fd93ull;
  x ^= x >> 32;
  x *= 0xd6e8feb86659fd93ull;
  return x ^ (x >> 32);
}

std::uint64_t hash_of(const char* text, std::size_t size) {
  std::uint64_t hash = 0x9e3779b97f4a7c15ull * (size + 1);
  for (; size >= 8; text += 8, size -= 8) {
    std::uint64_t word;
    std::memcpy(&word, text, 8);
    hash = mixed(hash ^ word);
  }
  std::uint64_t word = 0;
  std::memcpy(&word, text, size);
  return mixed(hash ^ word);
}

struct Cell {
  const char* from;
  std::size_t size;
};

// Texts by their codes, 1, 2, ... in the order in which they came.
class Texts {
 public:
  Texts() : slots_(64), brief_(1u << 16, 0) {}

  int code(const Cell& cell) {
    if (cell.size == 0) return 0;
    if (cell.size > 2) return slow(cell);
    const std::size_t at = static_cast<unsigned char>(cell.from[0]) |
                           (cell.size == 2 ? static_cast<std::size_t>(static_cast<unsigned char>(cell.from[1])) << 8 : 0);
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

  int slow(const Cell& cell) {
    const std::uint64_t hash = hash_of(cell.from, cell.size);
    std::size_t at = hash & (slots_.size() - 1);
    for (; slots_[at].code; at = (at + 1) & (slots_.size() - 1)) {
      const std::string& text = all_[slots_[at].code - 1];
      if (slots_[at].hash == hash && text.size() == cell.size && !std::memcmp(text.data(), cell.from, cell.size))
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
      std::size_t at = slot.hash & (slots_.size() - 1);
      while (slots_[at].code) at = (at + 1) & (slots_.size() - 1);
      slots_[at] = slot;
    }
  }

  std::vector<std::string> all_;
  std::vector<Slot> slots_;
  std::vector<int> brief_;  // codes of texts of one or two bytes
  std::size_t used_ = 0;
};

// A number as records write it; false for anything else, and for whole numbers that cannot be held exactly.
bool number_of(const Cell& cell, char decimal, double& value) {
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
  static const double powers[] = {1e0,  1e1,  1e2,  1e3,  1e4,  1e5,  1e6,  1e7,  1e8,  1e9,  1e10, 1e11,
                                  1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22};
  if (!exponent && kept <= 15 && scale >= -22) {
    value = static_cast<double>(digits) / powers[-scale];
    if (minus) value = -value;
  } else {
    std::string text(cell.from, cell.size);
    if (decimal != '.') std::replace(text.begin(), text.end(), decimal, '.');
    value = std::strtod(text.c_str(), nullptr);
  }
  return std::fabs(value) < 9007199254740992.0;
}

enum class Record { complete, incomplete, fault };

// One record, character by character, by the rule of delimited.h. `cells` are the texts of its cells; `lines` counts the
// lines that it goes over. At the end of everything (`last`) an open record is complete.
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
        if (c == '\r' && p + 1 == end && !last) return Record::incomplete;  // the line end may go on
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
  std::vector<char> bytes;
  std::size_t size = 0;  // bytes of whole records
  bool last = false;
  double records = 0, blank = 0, lines = 0;
  ChunkFault fault;
};

// Groups of the pieces that one worker takes: dictionaries and sums of its own.
struct Chunked::Shard {
  const ChunkPlan& plan;
  std::vector<Texts> texts;
  std::vector<std::vector<int>> between;  // for a key with cuts: the code of each place between them
  struct Table {
    std::vector<std::size_t> keys;
    std::vector<int> bits;
    std::vector<std::uint64_t> slots;  // a group's place + 1
    std::vector<std::uint64_t> packed;
    std::vector<double> records, n, w, w2;
    std::vector<std::vector<double>> replicates;
  };
  std::vector<Table> tables;
  std::vector<int> codes;
  std::vector<double> numbers;
  std::vector<std::size_t> wanted;  // columns, increasing
  std::string odd_text;
  double odd_line = 0;
  int odd_column = -1;
  bool too_many = false;

  explicit Shard(const ChunkPlan& p) : plan(p), texts(p.keys.size()), between(p.keys.size()), codes(p.keys.size()) {
    for (std::size_t k = 0; k < p.keys.size(); ++k)
      if (p.keys[k].cut) between[k].assign(2 * (p.keys[k].cuts.size() + 1), 0);
    for (const auto& set : p.sets) {
      Table table;
      table.keys = set;
      table.bits.assign(set.size(), 4);
      table.slots.assign(256, 0);
      table.replicates.resize(p.replicates.size());
      tables.push_back(table);
    }
    numbers.resize(p.replicates.size());
  }

  int code_of(std::size_t k, const Cell& cell) {
    const KeyColumn& key = plan.keys[k];
    double value;
    if (!key.cut || cell.size == 0 || !number_of(cell, plan.decimal, value)) return texts[k].code(cell);
    for (double apart : key.apart)
      if (value == apart) return texts[k].code(cell);
    std::size_t place = 0;
    while (place < key.cuts.size() &&
           (key.cuts[place].second ? value > key.cuts[place].first : value >= key.cuts[place].first))
      ++place;
    int& code = between[k][2 * place + (value != std::floor(value))];
    if (!code) code = texts[k].add(std::string(cell.from, cell.size));
    return code;
  }

  Sign number_at(const Cell& cell, int column, double line, double& value) {
    value = 0;
    if (cell.size == 0) return Sign::missing;
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

  void add(const Cell* cells, double line) {
    for (std::size_t k = 0; k < codes.size(); ++k) codes[k] = code_of(k, cells[plan.keys[k].column]);
    double w = 1, n = 1;
    Sign weight = Sign::positive, count = Sign::positive;
    if (plan.weight >= 0) weight = number_at(cells[plan.weight], plan.weight, line, w);
    if (plan.count >= 0) count = number_at(cells[plan.count], plan.count, line, n);
    bool there = true;
    for (std::size_t r = 0; r < numbers.size(); ++r)
      if (number_at(cells[plan.replicates[r]], plan.replicates[r], line, numbers[r]) == Sign::missing) there = false;
    const std::uint64_t state =
        (static_cast<std::uint64_t>(weight) * kStates + static_cast<std::uint64_t>(count)) * 2 + there;
    for (Table& table : tables) {
      const std::size_t at = group(table, state);
      table.records[at] += 1;
      table.n[at] += n;
      table.w[at] += n * w;
      table.w2[at] += n * w * w;
      for (std::size_t r = 0; r < numbers.size(); ++r) table.replicates[r][at] += n * numbers[r];
    }
  }

  std::size_t group(Table& table, std::uint64_t state) {
    std::uint64_t key = state;
    int shift = 6;
    for (std::size_t k = 0; k < table.keys.size(); ++k) {
      const std::uint64_t code = static_cast<std::uint64_t>(codes[table.keys[k]]);
      while (code >> table.bits[k]) {
        widen(table, k);
        return group(table, state);
      }
      key |= code << shift;
      shift += table.bits[k];
    }
    std::size_t at = mixed(key) & (table.slots.size() - 1);
    for (; table.slots[at]; at = (at + 1) & (table.slots.size() - 1))
      if (table.packed[table.slots[at] - 1] == key) return table.slots[at] - 1;
    table.packed.push_back(key);
    for (auto* sums : {&table.records, &table.n, &table.w, &table.w2}) sums->push_back(0);
    for (auto& sums : table.replicates) sums.push_back(0);
    table.slots[at] = table.packed.size();
    if (table.packed.size() > plan.most_groups) too_many = true;
    if (table.packed.size() * 2 > table.slots.size()) placed(table, table.slots.size() * 2);
    return table.packed.size() - 1;
  }

  // A key has more texts than its bits can tell apart: all groups are packed anew.
  void widen(Table& table, std::size_t k) {
    std::vector<int> old = table.bits;
    table.bits[k] += 2;
    int all = 6;
    for (int bits : table.bits) all += bits;
    if (all > 64) {  // more combinations than there could be groups
      table.bits[k] -= 2;
      too_many = true;
      codes[table.keys[k]] = 0;
      return;
    }
    for (std::uint64_t& key : table.packed) {
      const std::vector<int> own = unpacked(key, old);
      key &= 63;
      int shift = 6;
      for (std::size_t j = 0; j < own.size(); ++j) {
        key |= static_cast<std::uint64_t>(own[j]) << shift;
        shift += table.bits[j];
      }
    }
    placed(table, table.slots.size());
  }

  static std::vector<int> unpacked(std::uint64_t key, const std::vector<int>& bits) {
    std::vector<int> codes;
    key >>= 6;
    for (int b : bits) {
      codes.push_back(static_cast<int>(key & ((1ull << b) - 1)));
      key >>= b;
    }
    return codes;
  }

  static void placed(Table& table, std::size_t size) {
    table.slots.assign(size, 0);
    for (std::size_t g = 0; g < table.packed.size(); ++g) {
      std::size_t at = mixed(table.packed[g]) & (size - 1);
      while (table.slots[at]) at = (at + 1) & (size - 1);
      table.slots[at] = g + 1;
    }
  }

  void take(Piece& piece) {
    const char separator = plan.separator;
    unsigned char kind[256] = {0};
    for (unsigned char c : {'\n', '\r', '"', '\0'}) kind[c] = 2;
    kind[static_cast<unsigned char>(separator)] = 1;
    const auto space = [&](char c) { return c == ' ' || (c == '\t' && separator != '\t'); };
    std::vector<Cell> cells(plan.width + 1);
    Careful careful;
    const char *p = piece.bytes.data(), *end = p + piece.size;
    while (p < end && !too_many) {
      const char* begin = p;
      std::size_t found = 0;
      bool plain = true;
      for (const char* from = p;; ++p) {
        while (p < end && !kind[static_cast<unsigned char>(*p)]) ++p;
        const bool separates = p < end && *p == separator;
        if (p < end && !separates && *p != '\n' && !(*p == '\r' && p + 1 < end && p[1] == '\n')) {
          plain = false;
          break;
        }
        const char* to = p;
        while (from < to && space(*from)) ++from;
        while (from < to && space(to[-1])) --to;
        if (found <= plan.width) cells[std::min(found, plan.width)] = {from, static_cast<std::size_t>(to - from)};
        ++found;
        if (!separates) break;
        from = p + 1;
      }
      double lines = 1;
      bool blank;
      if (plain) {
        blank = found == 1 && cells[0].size == 0;
        p += p < end && *p == '\r' ? 2 : 1;
      } else {
        if (careful.read(begin, end, separator, true) == Record::fault) {
          piece.fault.fault = careful.fault;
          piece.fault.line = piece.lines + careful.opened;
          return;
        }
        found = careful.cells.size();
        for (std::size_t k = 0; k < found && k < plan.width; ++k)
          cells[k] = {careful.cells[k].data(), careful.cells[k].size()};
        blank = careful.blank;
        p = careful.after;
        lines = careful.lines;
      }
      if (blank) {
        piece.blank += 1;
      } else if (found != plan.width) {
        piece.fault.fault = Fault::ragged;
        piece.fault.line = piece.lines;
        piece.fault.cells = static_cast<double>(found);
        return;
      } else {
        add(cells.data(), piece.lines);
        piece.records += 1;
      }
      piece.lines += lines;
    }
    piece.fault.too_many = too_many;
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
  if (file_) std::fclose(file_);
  for (auto* shard : shards_) delete shard;
  for (auto* piece : ready_) delete piece;
  for (auto* piece : next_) delete piece;
}

bool Chunked::open(const char* path, std::size_t piece) {
  if (file_) std::fclose(file_);
  file_ = std::fopen(path, "rb");
  if (!file_) return false;
  rest_.clear();
  bytes_ = 0;
  line_ = 1;
  piece_ = piece;
  ended_ = false;
  fault_ = ChunkFault();
  // past the byte-order mark and the header, which may go over several lines
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
  for (Piece* one : ready_) fill(*one);
  return true;
}

// The next piece of the file, up to its last whole record.
bool Chunked::fill(Piece& piece) {
  piece.size = 0;
  piece.records = piece.blank = piece.lines = 0;
  piece.fault = ChunkFault();
  piece.last = false;
  if (ended_ || !file_) return false;
  piece.bytes.assign(rest_.begin(), rest_.end());
  rest_.clear();
  for (std::size_t want = piece_;; want *= 2) {
    const std::size_t had = piece.bytes.size();
    piece.bytes.resize(std::max(had, want) + (had >= want ? want : 0));
    const std::size_t got = std::fread(piece.bytes.data() + had, 1, piece.bytes.size() - had, file_);
    piece.bytes.resize(had + got);
    const bool last = std::feof(file_) != 0;
    if (std::ferror(file_)) {
      piece.fault.fault = Fault::unreadable;
      ended_ = true;
      return false;
    }
    if (last) ended_ = true;
    if (last || whole_records(piece, last)) {
      if (last) piece.size = piece.bytes.size();
      piece.last = last;
      break;
    }
  }
  rest_.assign(piece.bytes.begin() + piece.size, piece.bytes.end());
  return true;
}

// Sets `size` to the end of the last whole record; false when there is none.
bool Chunked::whole_records(Piece& piece, bool last) {
  const char *begin = piece.bytes.data(), *end = begin + piece.bytes.size();
  if (!std::memchr(begin, '"', piece.bytes.size())) {
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
    if (careful.read(p, end, plan_.separator, last) == Record::incomplete) break;
    if (careful.fault != Fault::none) {  // it is told where the piece is taken
      piece.size = end - begin;
      return true;
    }
    p = careful.after;
  }
  piece.size = p - begin;
  return piece.size > 0;
}

bool Chunked::step() {
  if (fault_.fault != Fault::none || fault_.too_many) return false;
  // the next pieces are read while these are taken
  std::vector<std::thread> pool;
  const std::size_t workers = std::min<std::size_t>(std::max(plan_.threads, 1), kShards);
  if (workers > 1)
    for (std::size_t s = 0; s < kShards; ++s) pool.emplace_back([this, s] { shards_[s]->take(*ready_[s]); });
  for (Piece* piece : next_) fill(*piece);
  if (workers == 1)
    for (std::size_t s = 0; s < kShards; ++s) shards_[s]->take(*ready_[s]);
  for (auto& thread : pool) thread.join();
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
  ready_.swap(next_);
  for (Piece* piece : ready_) {
    any = any || piece->size > 0;
    if (piece->fault.fault != Fault::none) fault_ = piece->fault;
  }
  return any && fault_.fault == Fault::none;
}

std::vector<std::vector<std::string>> Chunked::texts() const {
  std::vector<std::vector<std::string>> out(plan_.keys.size());
  for (std::size_t k = 0; k < out.size(); ++k)
    for (const Shard* shard : shards_)
      out[k].insert(out[k].end(), shard->texts[k].all().begin(), shard->texts[k].all().end());
  return out;
}

// Codes of the second shard go on where those of the first end: whoever reads the texts sees that some are the same.
std::vector<Groups> Chunked::groups() const {
  std::vector<Groups> out(plan_.sets.size());
  for (std::size_t t = 0; t < out.size(); ++t) {
    Groups& to = out[t];
    to.codes.resize(plan_.sets[t].size());
    to.replicates.resize(plan_.replicates.size());
    std::vector<int> before(plan_.sets[t].size(), 0);
    for (const Shard* shard : shards_) {
      const Shard::Table& from = shard->tables[t];
      for (std::size_t g = 0; g < from.packed.size(); ++g) {
        const std::vector<int> codes = Shard::unpacked(from.packed[g], from.bits);
        for (std::size_t k = 0; k < codes.size(); ++k) to.codes[k].push_back(codes[k] ? codes[k] + before[k] : 0);
        const std::uint64_t state = from.packed[g] & 63;
        to.replicates_there.push_back(state % 2);
        to.count.push_back(static_cast<int>(state / 2 % kStates));
        to.weight.push_back(static_cast<int>(state / 2 / kStates));
      }
      to.records.insert(to.records.end(), from.records.begin(), from.records.end());
      to.n.insert(to.n.end(), from.n.begin(), from.n.end());
      to.w.insert(to.w.end(), from.w.begin(), from.w.end());
      to.w2.insert(to.w2.end(), from.w2.begin(), from.w2.end());
      for (std::size_t r = 0; r < to.replicates.size(); ++r)
        to.replicates[r].insert(to.replicates[r].end(), from.replicates[r].begin(), from.replicates[r].end());
      for (std::size_t k = 0; k < before.size(); ++k)
        before[k] += static_cast<int>(shard->texts[plan_.sets[t][k]].all().size());
    }
  }
  return out;
}

std::vector<double> lines_with(const char* path, char separator, std::size_t column, const std::string& text,
                               std::size_t most) {
  std::vector<double> out;
  std::FILE* file = std::fopen(path, "rb");
  if (!file) return out;
  std::vector<double> records;
  const Delimited read = scan_delimited(file, separator, true,
                                        [&](std::size_t record, std::size_t k, const std::string& cell) {
                                          if (k == column && records.size() < most && cell == text)
                                            records.push_back(static_cast<double>(record) + 1);
                                        });
  std::fclose(file);
  for (double record : records)
    out.push_back(read.lines.empty() ? record + 1 : read.lines[static_cast<std::size_t>(record) - 1]);
  return out;
}

}  // namespace fairlattice
