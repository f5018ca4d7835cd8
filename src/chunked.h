// Text files, with separators or of JSON lines, read in chunks, whatever their length: every record
// goes into the group of those that are alike in what is asked, and only the groups are kept. What
// a record is, is said in delimited.h and json_line.h. Plain C++ on plain types: no R objects here.
#pragma once
#include <cstddef>
#include <cstdint>
#include <cstdio>
#include <functional>
#include <string>
#include <utility>
#include <vector>

#include "delimited.h"
#include "json_line.h"

namespace fairlattice {

// A column that is told apart: by the text of its cells, or, when it has cuts, by where its number
// lies between them.
struct KeyColumn {
  std::size_t column;
  std::vector<std::pair<double, bool>>
      cuts;                   // (value, up to it), increasing; empty: every text by itself
  std::vector<double> apart;  // numbers that stand by themselves all the same
  bool cut = false;
};

struct ChunkPlan {
  char separator = ',', decimal = '.';
  std::size_t width = 0;
  std::vector<std::string> json;  // of JSON lines the keys, one a column
  std::vector<KeyColumn> keys;
  std::vector<std::vector<std::size_t>> sets;  // places in `keys`
  int weight = -1, count = -1;                 // columns
  std::vector<int> replicates;
  std::size_t most_groups = 5000000;
  int threads = 2;
};

// What a number of a record was: in this order, from 0.
enum class Sign { missing, zero, positive, negative, no_number };

struct Groups {
  std::vector<std::vector<int>> codes;  // one vector a key of the set: 0 no text, k the k-th text
  std::vector<int> weight, count;       // Sign
  std::vector<char> replicates_there;
  std::vector<double> records, n, w, w2;
  std::vector<std::vector<double>> replicates;
};

struct ChunkFault {
  Fault fault = Fault::none;
  double line = 0, cells = 0;
  bool too_many = false;
};

class Chunked {
 public:
  explicit Chunked(const ChunkPlan& plan);
  ~Chunked();
  Chunked(const Chunked&) = delete;
  Chunked& operator=(const Chunked&) = delete;

  // At the first record, in pieces of so many bytes; false when it cannot be opened. A file that is
  // not `mapped` into memory is read.
  bool open(const char* path, std::size_t piece, bool mapped);
  bool step();  // false at the end of the file, or at a fault
  const ChunkFault& fault() const { return fault_; }
  double bytes() const { return bytes_; }
  double records() const { return records_; }  // of all files so far
  double blank() const { return blank_; }

  bool gather();  // all that was found in one place, before it is asked for; false: too many groups
  std::vector<std::vector<std::string>> texts() const;  // of every key, the first is that of code 1
  std::vector<Groups> groups() const;
  // A weight or count that is no number: its text, and the line in the file that was open.
  const std::string& odd_text() const { return odd_text_; }
  double odd_line() const { return odd_line_; }
  int odd_column() const { return odd_column_; }

 private:
  struct Shard;
  struct Piece;
  void in_turn(std::size_t works, const std::function<void(std::size_t)>& work,
               const std::function<void()>& meanwhile = nullptr);
  void close();
  void map();
  void let_go();
  bool fill(Piece& piece);
  bool fill_mapped(Piece& piece);
  void past_header();
  bool cut_off(Piece& piece, std::size_t want, std::size_t left);
  bool whole_records(Piece& piece);

  ChunkPlan plan_;
  std::vector<Shard*> shards_;
  std::vector<Piece*> ready_, next_;
  std::FILE* file_ = nullptr;
  char* map_ = nullptr;  // all of the file
  std::size_t map_size_ = 0, at_ = 0, let_go_ = 0;
  std::vector<char> rest_;
  std::size_t piece_ = 0;
  bool ended_ = true;
  double bytes_ = 0, records_ = 0, blank_ = 0, line_ = 1;
  ChunkFault fault_;
  std::string odd_text_;
  double odd_line_ = 0;
  int odd_column_ = -1;
};

// The line of the first records whose cell of a column is this text, at most `most` of them.
std::vector<double> lines_with(const char* path, char separator, std::size_t column,
                               const std::string& text, std::size_t most);

}  // namespace fairlattice
