// Text with separators, by one rule (RFC 4180, and spaces round a cell do not count): how many
// records it has, on which lines they begin, and the first thing that is wrong with it. Plain C++
// on plain types; reads the file in pieces.
#pragma once
#include <cstddef>
#include <cstdio>
#include <functional>
#include <string>
#include <vector>

namespace fairlattice {

enum class Fault { none, unreadable, nul, ragged, after_quote, unclosed, no_json };

struct Delimited {
  std::vector<std::string> header;
  double records = 0, blank = 0;  // blank lines are passed over, except in a file of one column
  std::vector<double> lines;      // where each record begins; empty when record k is line k + 1
  bool odd = false;               // a quote inside a cell without quotes, or a lone carriage return
  Fault fault = Fault::none;
  double line = 0, cells = 0;  // of the fault; cells found there
};

// `see(record, column, text)` gets every cell of the records, when it is given.
using SeeCell = std::function<void(std::size_t, std::size_t, const std::string&)>;
Delimited scan_delimited(std::FILE* file, char separator, bool text, const SeeCell& see);

}  // namespace fairlattice
