// The only file that knows both R and the kernels: unwraps R vectors, calls a kernel,
// names what comes back.
#include <algorithm>
#include <cerrno>
#include <climits>
#include <cmath>
#include <csignal>
#include <cstdio>
#include <cstring>
#include <exception>
#include <functional>
#include <random>

#ifdef _WIN32
#include <io.h>
#else
#include <unistd.h>
#endif

#include "bytes.h"
#include "chunked.h"
#include "codes.h"
#include "correction.h"
#include "covariance.h"
#include "delimited.h"
#include "different.h"
#include "fairlattice_types.h"
#include "figures.h"
#include "fixed_margins.h"
#include "flow.h"
#include "frame_groups.h"
#include "hash.h"
#include "interrupt.h"
#include "json_text.h"
#include "json_tree.h"
#include "reasons.h"
#include "scores.h"
#include "system.h"
#include "tally.h"
#include "tally_many.h"
#include "xml_text.h"

using namespace cpp11::literals;

namespace {

using Chunks = cpp11::external_pointer<fairlattice::Chunked>;

// A list with names, of one part after the other.
SEXP list(std::initializer_list<cpp11::named_arg> parts) {
  const cpp11::writable::list out(parts);
  return out;
}

// Every vector that crosses the border is checked here, once. What fails is an error of the
// program: users' mistakes are caught in R.
void must(bool holds, const char* what) {
  if (!holds) cpp11::stop("internal: %s", what);
}

// Whether all codes are at most `most`: in blocks of a fixed size, which compilers turn
// into a few instructions.
bool codes_within(const int* codes, R_xlen_t size, int most) {
  const int kBlock = 1024;
  R_xlen_t i = 0;
  for (; i + kBlock <= size; i += kBlock) {
    int beyond = 0;
    for (int k = 0; k < kBlock; ++k) beyond |= codes[i + k] > most;
    if (beyond) return false;
  }
  for (; i < size; ++i)
    if (codes[i] > most) return false;
  return true;
}

// Codes 1..most; anything below 1 is no answer.
const int* codes_of(SEXP x, R_xlen_t size, int most, const char* what) {
  if (Rf_isNull(x)) return nullptr;
  must(TYPEOF(x) == INTSXP && Rf_xlength(x) == size, what);
  must(codes_within(INTEGER(x), size, most), what);
  return INTEGER(x);
}

const double* numbers_of(SEXP x, R_xlen_t size, const char* what) {
  if (Rf_isNull(x)) return nullptr;
  must(TYPEOF(x) == REALSXP && Rf_xlength(x) == size, what);
  return REAL(x);
}

// Margins of one table: counts, not negative, rows and columns with the same sum below 2^31.
fairlattice::Margins margins_of(const Integers& rows, const Integers& columns, double observed) {
  double sums[2] = {0, 0};
  for (int k = 0; k < 2; ++k)
    for (int x : k ? columns : rows) {
      must(x >= 0, "a margin is negative or missing");
      sums[k] += x;
    }
  must(rows.size() > 0 && columns.size() > 0 && sums[0] == sums[1] && sums[0] < 2147483647.0,
       "the margins of a table do not agree");
  return {std::vector<int>(rows.begin(), rows.end()),
          std::vector<int>(columns.begin(), columns.end()), observed};
}

// Columns of codes; one that equals that of the table before is the same vector, so that it takes
// no room of its own.
struct Codes {
  NewIntegers last{0};
  SEXP operator()(const std::vector<int>& codes) {
    if (last.size() != static_cast<R_xlen_t>(codes.size()) ||
        !std::equal(codes.begin(), codes.end(), last.begin()))
      last = NewIntegers(codes.begin(), codes.end());
    return last;
  }
};

struct Columns {
  Codes unit, down, across, each;

  // The cells of a tally; without counts, records are respondents.
  SEXP operator()(const fairlattice::Tally& t, bool counted) {
    const auto figures = [&](double fairlattice::Cell::*which) {
      NewNumbers out(t.cell.size());
      for (R_xlen_t i = 0; i < out.size(); ++i) out[i] = t.cell[i].*which;
      return out;
    };
    const NewNumbers records = figures(&fairlattice::Cell::records);
    return list({"unit"_nm = unit(t.unit), "down"_nm = down(t.down), "across"_nm = across(t.across),
                 "each"_nm = each(t.each), "records"_nm = records,
                 "n"_nm = counted ? figures(&fairlattice::Cell::respondents) : records,
                 "w"_nm = figures(&fairlattice::Cell::weight),
                 "w2"_nm = figures(&fairlattice::Cell::weight_squared)});
  }
};

void look_for_interrupt(void*) { R_CheckUserInterrupt(); }

// Asks R, which may be asked on its own thread only, whether the user wants to stop, and tells how
// far the work is. What R throws is kept until no thread works any more.
struct Watch {
  SEXP show;
  bool interrupted = false;
  std::exception_ptr thrown;
  bool operator()(double done) {
    if (!R_ToplevelExec(look_for_interrupt, nullptr)) {
      interrupted = true;
      return false;
    }
    if (Rf_isNull(show)) return true;
    try {
      const cpp11::function call(show);
      call(done);
    } catch (...) {
      thrown = std::current_exception();
    }
    return !thrown;
  }
};

// Figures are written one at a time all over a table, so what R gives is taken as it is: wrapping
// it takes longer.
SEXP texts_of(SEXP x, SEXP digits, std::string (*write)(double, int), const char* minus) {
  must(TYPEOF(x) == REALSXP && TYPEOF(digits) == INTSXP,
       "figures must be numbers, and their decimals whole");
  const R_xlen_t size = XLENGTH(x), cycle = XLENGTH(digits);
  must(cycle > 0 || size == 0, "no number of decimals");
  const cpp11::sexp out(cpp11::safe[Rf_allocVector](STRSXP, size));
  for (R_xlen_t i = 0; i < size; ++i) {
    std::string text = write(REAL(x)[i], INTEGER(digits)[i % cycle]);
    if (text[0] == '-') text.replace(0, 1, minus);
    SET_STRING_ELT(out, i, utf8(text));
  }
  return out;
}

}  // namespace

[[cpp11::register]] SEXP exact_kernel(Integers rows, Integers columns, double observed,
                                      double most_steps, double most_bytes, int threads,
                                      SEXP show) {
  Watch watch{show, false, nullptr};
  const fairlattice::ExactResult out = fairlattice::exact_test(
      margins_of(rows, columns, observed), most_steps, most_bytes, threads, std::ref(watch));
  if (watch.thrown) std::rethrow_exception(watch.thrown);
  return list({"p"_nm = out.p, "finished"_nm = out.finished, "interrupted"_nm = watch.interrupted,
               "steps"_nm = out.steps});
}

// Chunks first..last-1 of 1,000 random tables each.
[[cpp11::register]] double count_random_kernel(Integers rows, Integers columns, double observed,
                                               double seed, int first, int last, int threads) {
  return static_cast<double>(fairlattice::count_random(
      margins_of(rows, columns, observed), static_cast<std::uint64_t>(seed), first, last, threads));
}

[[cpp11::register]] SEXP random_table_kernel(Integers rows, Integers columns, double seed,
                                             int number) {
  const std::vector<int> table = fairlattice::random_table(
      margins_of(rows, columns, 0), static_cast<std::uint64_t>(seed), number);
  return NewIntegers(table);
}

[[cpp11::register]] SEXP tally_kernel(Integers down, Integers across, SEXP each, SEXP unit,
                                      SEXP weight, SEXP count, SEXP aside, int down_answers,
                                      int across_answers, int each_answers, int units,
                                      int threads) {
  const R_xlen_t records_read = down.size();
  must(down_answers >= 0 && across_answers >= 0 && each_answers >= 0 && units >= 1,
       "a number of answers is negative");
  must((down_answers + 1.0) * (across_answers + 1.0) * (each_answers + 1.0) * units < 9e18,
       "the table has more cells than can be counted");
  // a factor that somebody tampered with: the one thing that is told to the caller,
  // who knows its name
  const SEXP questions[] = {down, across, each};
  const int answers[] = {down_answers, across_answers, each_answers};
  const char* names[] = {"down", "across", "each"};
  for (int k = 0; k < 3; ++k) {
    if (Rf_isNull(questions[k])) continue;
    must(TYPEOF(questions[k]) == INTSXP && Rf_xlength(questions[k]) == records_read,
         "answers of another length");
    if (!codes_within(INTEGER(questions[k]), records_read, answers[k]))
      return list({"unsound"_nm = names[k]});
  }
  const int* unit_of = codes_of(unit, records_read, units, "a design unit");
  if (unit_of)
    must(records_read == 0 || *std::min_element(unit_of, unit_of + records_read) >= 1,
         "a record without a design unit");
  fairlattice::Records records{static_cast<std::size_t>(records_read),
                               down.begin(),
                               across.begin(),
                               Rf_isNull(each) ? nullptr : INTEGER(each),
                               unit_of,
                               numbers_of(weight, records_read, "a weight"),
                               numbers_of(count, records_read, "a count"),
                               codes_of(aside, records_read, 2147483647, "a reason"),
                               down_answers,
                               across_answers,
                               each_answers,
                               units};
  return Columns()(fairlattice::tally(records, threads), records.count != nullptr);
}

// The design unit of every record of imputed data sets, each of which has `units` of its own.
[[cpp11::register]] SEXP units_of_imputations_kernel(SEXP unit, Integers imputation, int units) {
  const R_xlen_t size = imputation.size();
  const int* within = codes_of(unit, size, units, "a design unit");
  NewIntegers out(size);
  for (R_xlen_t i = 0; i < size; ++i)
    out[i] = (within ? within[i] : 1) + (imputation[i] - 1) * units;
  return out;
}

// At most so many of the records that are not set aside, evenly, the first of them among them.
[[cpp11::register]] SEXP sampled_rows_kernel(SEXP aside, double records, int most) {
  must(most > 0, "a sample of nobody");
  const R_xlen_t size = static_cast<R_xlen_t>(records);
  const int* set = codes_of(aside, size, 2147483647, "a reason");
  const R_xlen_t inside = set ? std::count(set, set + size, 0) : size;
  const R_xlen_t every = std::max<R_xlen_t>(1, (inside + most - 1) / most);
  std::vector<int> rows;
  R_xlen_t before_next = 0;
  for (R_xlen_t i = 0; i < size; ++i) {
    if ((set && set[i] != 0) || before_next-- > 0) continue;
    rows.push_back(static_cast<int>(i + 1));
    before_next = every - 1;
  }
  return NewIntegers(rows);
}

// Many tables in one pass: `codes` of every question, and in `asked` which of them (from 0; -1 for
// none) are down, across and each, a column a table. The R code has checked the answers.
[[cpp11::register]] SEXP tally_many_kernel(List codes, Integers answers, IntegerMatrix asked,
                                           SEXP unit, SEXP weight, SEXP count, SEXP aside,
                                           int units, int threads) {
  must(codes.size() > 0 && codes.size() == answers.size() && units >= 1,
       "questions of many tables");
  const R_xlen_t size = Rf_xlength(codes[0]);
  fairlattice::Many records{static_cast<std::size_t>(size),
                            {},
                            {},
                            codes_of(unit, size, units, "a design unit"),
                            numbers_of(weight, size, "a weight"),
                            numbers_of(count, size, "a count"),
                            codes_of(aside, size, 2147483647, "a reason"),
                            units};
  if (records.unit)
    must(size == 0 || *std::min_element(records.unit, records.unit + size) >= 1,
         "a record without a design unit");
  for (R_xlen_t q = 0; q < codes.size(); ++q) {
    must(answers[q] >= 0 && answers[q] < 65536, "a number of answers");
    records.codes.push_back(codes_of(codes[q], size, answers[q], "answers of many tables"));
    must(records.codes.back() != nullptr, "a question without codes");
    records.answers.push_back(answers[q]);
  }
  must(asked.nrow() == 3, "what is asked of many tables");
  std::vector<fairlattice::Asked> tables;
  for (int t = 0; t < asked.ncol(); ++t) {
    for (int k = 0; k < 3; ++k)
      must(asked(k, t) >= (k ? -1 : 0) && asked(k, t) < codes.size(), "a question of a table");
    tables.push_back({asked(0, t), asked(1, t), asked(2, t)});
  }
  std::vector<fairlattice::Tally> found = fairlattice::tally_many(records, tables, threads);
  NewList out(found.size());
  Columns columns;
  for (std::size_t t = 0; t < found.size(); ++t) {
    out.set(t, columns(found[t], records.count != nullptr));
    found[t] = fairlattice::Tally();
  }
  return out;
}

// Whether x holds codes of so many answers.
[[cpp11::register]] bool codes_within_kernel(SEXP x, int answers) {
  return TYPEOF(x) == INTSXP && codes_within(INTEGER(x), Rf_xlength(x), answers);
}

// Sums of w over places 1..cells; place 0 is nowhere.
[[cpp11::register]] SEXP sum_by_cell_kernel(Integers place, Numbers w, int cells) {
  must(cells >= 0 && place.size() == w.size(), "sums by cell of different lengths");
  for (int at : place) must(at >= 0 && at <= cells, "a cell beyond the table");
  std::vector<double> sum(static_cast<std::size_t>(cells) + 1, 0.0);
  for (R_xlen_t i = 0, size = place.size(); i < size; ++i) sum[place[i]] += w[i];
  return NewNumbers(sum.begin() + 1, sum.end());
}

// Sums of the rows of a matrix by group, one row a group.
[[cpp11::register]] SEXP group_sums_kernel(Matrix x, Integers group, int groups) {
  must(groups >= 0 && group.size() == x.nrow(), "groups of another length");
  for (int at : group) must(at >= 1 && at <= groups, "a group beyond the last");
  NewMatrix out(groups, x.ncol());
  for (int column = 0; column < x.ncol(); ++column)
    for (R_xlen_t i = 0, size = group.size(); i < size; ++i)
      out(group[i] - 1, column) += x(i, column);
  return out;
}

[[cpp11::register]] SEXP missing_for_kernel(Integers reasons) {
  NewNumbers out(reasons.size());
  for (R_xlen_t i = 0; i < reasons.size(); ++i) out[i] = fairlattice::missing_for(reasons[i]);
  return out;
}

[[cpp11::register]] SEXP reason_of_kernel(Numbers x) {
  NewIntegers out(x.size());
  for (R_xlen_t i = 0; i < x.size(); ++i) out[i] = ISNAN(x[i]) ? fairlattice::reason_of(x[i]) : 0;
  return out;
}

[[cpp11::register]] SEXP place_codes_kernel(Integers x, Integers known, int blank, int threads) {
  must(known.size() > 0, "no known codes");
  const double range = static_cast<double>(*std::max_element(known.begin(), known.end())) -
                       *std::min_element(known.begin(), known.end());
  must(*std::min_element(known.begin(), known.end()) > INT_MIN && range < 1e8,
       "known codes that are missing or far apart");
  NewIntegers out(x.size());
  const double unknown = fairlattice::place_codes(x.begin(), x.size(), known.begin(), known.size(),
                                                  blank, out.begin(), threads);
  return list({"codes"_nm = out, "unknown"_nm = unknown});
}

// Whether a text column needs a closer look: a byte beyond ASCII, or a doubled quote. Most need
// none.
[[cpp11::register]] bool plain_text_kernel(Texts x) {
  for (R_xlen_t i = 0; i < x.size(); ++i) {
    const SEXP cell = STRING_ELT(x, i);
    if (i > 0 && cell == STRING_ELT(x, i - 1)) continue;
    const char* text = CHAR(cell);
    for (int k = 0, size = LENGTH(cell); k < size; ++k)
      if (static_cast<unsigned char>(text[k]) > 127 ||
          (text[k] == '"' && k > 0 && text[k - 1] == '"'))
        return false;
  }
  return true;
}

// How a text file of cells is made: header, records, blank lines, the lines that records begin on,
// the first fault.
[[cpp11::register]] SEXP scan_delimited_kernel(std::string path, std::string separator, bool text) {
  must(separator.size() == 1, "a separator of one byte");
  std::vector<NewTexts> cells;
  std::FILE* file = std::fopen(path.c_str(), "rb");
  fairlattice::Delimited out;
  if (!file) {
    out.fault = fairlattice::Fault::unreadable;
  } else {
    out = fairlattice::scan_delimited(file, separator[0], false, nullptr);
    if (text && out.fault == fairlattice::Fault::none) {
      for (std::size_t j = 0; j < out.header.size(); ++j)
        cells.emplace_back(static_cast<R_xlen_t>(out.records));
      std::rewind(file);
      fairlattice::scan_delimited(
          file, separator[0], true, [&](std::size_t i, std::size_t j, const std::string& x) {
            SET_STRING_ELT(cells[j], static_cast<R_xlen_t>(i), x.empty() ? NA_STRING : utf8(x));
          });
    }
    std::fclose(file);
  }
  NewList data(cells.size());
  for (std::size_t j = 0; j < cells.size(); ++j) data.set(j, cells[j]);
  const char* faults[] = {"", "unreadable", "nul", "ragged", "after_quote", "unclosed"};
  return list({"header"_nm = NewTexts(out.header), "records"_nm = out.records,
               "blank"_nm = out.blank, "lines"_nm = out.lines, "odd"_nm = out.odd,
               "fault"_nm = faults[static_cast<int>(out.fault)], "line"_nm = out.line,
               "cells"_nm = out.cells, "data"_nm = data});
}

// Files read in chunks: what is asked, as the R code has checked it. `keys` are lists of column
// (from 0), at, upto, apart and cut; `sets` are places in them.
[[cpp11::register]] SEXP chunked_kernel(std::string separator, std::string decimal, int width,
                                        List keys, List sets, int weight, int count,
                                        Integers replicates, double most_groups, int threads,
                                        Texts json) {
  must(json.size() == 0 || json.size() == width, "keys of JSON lines");
  must(separator.size() == 1 && decimal.size() == 1 && width > 0, "how a file is made");
  const auto column = [&](int at, int least) {
    must(at >= least && at < width, "a column beyond the file");
    return at;
  };
  fairlattice::ChunkPlan plan;
  plan.separator = separator[0];
  plan.decimal = decimal[0];
  plan.width = static_cast<std::size_t>(width);
  for (R_xlen_t k = 0; k < keys.size(); ++k) {
    const List key(keys[k]);
    fairlattice::KeyColumn one;
    one.column = static_cast<std::size_t>(column(cpp11::as_cpp<int>(key.part("column")), 0));
    one.cut = cpp11::as_cpp<bool>(key.part("cut"));
    const Numbers at(key.part("at")), apart(key.part("apart"));
    const Logicals upto(key.part("upto"));
    must(at.size() == upto.size(), "cuts of different lengths");
    for (R_xlen_t i = 0; i < at.size(); ++i) one.cuts.emplace_back(at[i], upto[i] != 0);
    one.apart.assign(apart.begin(), apart.end());
    plan.keys.push_back(one);
  }
  for (R_xlen_t t = 0; t < sets.size(); ++t) {
    std::vector<std::size_t> set;
    for (int k : Integers(sets[t])) {
      must(k >= 0 && k < keys.size(), "a key that is not there");
      set.push_back(static_cast<std::size_t>(k));
    }
    plan.sets.push_back(set);
  }
  plan.weight = column(weight, -1);
  plan.count = column(count, -1);
  for (int r : replicates) plan.replicates.push_back(column(r, 0));
  plan.most_groups = static_cast<std::size_t>(most_groups);
  plan.threads = threads;
  for (R_xlen_t k = 0; k < json.size(); ++k) plan.json.emplace_back(CHAR(json[k]));
  const Chunks out(new fairlattice::Chunked(plan));
  return out;
}

[[cpp11::register]] bool open_chunked_kernel(SEXP chunked, std::string path, double piece,
                                             bool mapped) {
  must(piece >= 1 && piece <= 1e9, "the size of a piece");
  return Chunks(chunked)->open(path.c_str(), static_cast<std::size_t>(piece), mapped);
}

// Some steps further in the file that is open.
[[cpp11::register]] SEXP step_chunked_kernel(SEXP chunked, int steps) {
  const Chunks x(chunked);
  bool more = true;
  for (int k = 0; k < steps && more; ++k) more = x->step();
  const char* faults[] = {"", "unreadable", "nul", "ragged", "after_quote", "unclosed", "no_json"};
  const fairlattice::ChunkFault& fault = x->fault();
  return list({"more"_nm = more, "bytes"_nm = x->bytes(), "records"_nm = x->records(),
               "blank"_nm = x->blank(), "fault"_nm = faults[static_cast<int>(fault.fault)],
               "line"_nm = fault.line, "cells"_nm = fault.cells, "too_many"_nm = fault.too_many,
               "odd_text"_nm = x->odd_text(), "odd_line"_nm = x->odd_line(),
               "odd_column"_nm = x->odd_column()});
}

// What was found: of every key its texts, of every set its groups.
[[cpp11::register]] SEXP found_chunked_kernel(SEXP chunked) {
  const Chunks x(chunked);
  const bool too_many = !x->gather();
  const std::vector<std::vector<std::string>> texts = x->texts();
  NewList words(texts.size());
  for (std::size_t k = 0; k < texts.size(); ++k) words.set(k, NewTexts(texts[k]));
  const std::vector<fairlattice::Groups> found = x->groups();
  NewList sets(found.size());
  for (std::size_t t = 0; t < found.size(); ++t) {
    const fairlattice::Groups& one = found[t];
    NewList codes(one.codes.size());
    for (std::size_t k = 0; k < one.codes.size(); ++k) codes.set(k, NewIntegers(one.codes[k]));
    NewMatrix replicates(static_cast<int>(one.records.size()),
                         static_cast<int>(one.replicates.size()));
    for (std::size_t r = 0; r < one.replicates.size(); ++r)
      std::copy(one.replicates[r].begin(), one.replicates[r].end(),
                replicates.begin() + r * one.records.size());
    sets.set(t,
             list({"codes"_nm = codes, "records"_nm = one.records, "n"_nm = one.n, "w"_nm = one.w,
                   "w2"_nm = one.w2, "weight"_nm = one.weight, "count"_nm = one.count,
                   "replicates"_nm = replicates, "there"_nm = NewLogicals(one.replicates_there)}));
  }
  return list({"texts"_nm = words, "sets"_nm = sets, "too_many"_nm = too_many});
}

namespace {

fairlattice::Column column_of(SEXP x, std::size_t size) {
  must(Rf_xlength(x) == static_cast<R_xlen_t>(size), "columns of different lengths");
  fairlattice::Column column;
  switch (TYPEOF(x)) {
    case LGLSXP:
      column.whole = LOGICAL(x);
      break;
    case INTSXP:
      column.whole = INTEGER(x);
      break;
    case REALSXP:
      column.number = REAL(x);
      break;
    case STRSXP:
      column.text = reinterpret_cast<const void* const*>(STRING_PTR_RO(x));
      break;
    default:
      must(false, "a column of another type");
  }
  return column;
}

fairlattice::FramePart frame_part(const List& from) {
  fairlattice::FramePart part;
  part.size = static_cast<std::size_t>(Numbers(from.part("size"))[0]);
  const auto numbers = [&](SEXP x) -> const double* {
    if (Rf_isNull(x)) return nullptr;
    must(TYPEOF(x) == REALSXP && Rf_xlength(x) == static_cast<R_xlen_t>(part.size),
         "numbers of a frame");
    return REAL(x);
  };
  const List columns(from.part("columns")), replicates(from.part("replicates"));
  for (R_xlen_t k = 0; k < columns.size(); ++k)
    part.columns.push_back(column_of(columns[k], part.size));
  part.weight = numbers(from.part("weight"));
  part.count = numbers(from.part("count"));
  for (R_xlen_t r = 0; r < replicates.size(); ++r)
    part.replicates.push_back(numbers(replicates[r]));
  return part;
}

// Whether two parts can be one below the other.
bool alike(const fairlattice::FramePart& a, const fairlattice::FramePart& b) {
  return a.replicates.size() == b.replicates.size() && !a.weight == !b.weight &&
         !a.count == !b.count &&
         std::equal(a.columns.begin(), a.columns.end(), b.columns.begin(), b.columns.end(),
                    [](const fairlattice::Column& x, const fairlattice::Column& y) {
                      return !x.whole == !y.whole && !x.number == !y.number;
                    });
}

}  // namespace

// The records of data frames of the same columns, one below the other, in groups: of each half a
// list of the first record (from 1), what weights and counts are, and the sums. Every part has
// `columns`, `size`, `weight`, `count` and `replicates`.
[[cpp11::register]] SEXP frame_groups_kernel(List parts, bool halves, int threads) {
  fairlattice::Frame frame;
  for (R_xlen_t p = 0; p < parts.size(); ++p) {
    frame.push_back(frame_part(List(parts[p])));
    must(alike(frame[0], frame.back()), "parts of different columns");
  }
  must(!frame.empty(), "a frame of no part");
  const std::vector<fairlattice::FrameGroups> found =
      fairlattice::frame_groups(frame, halves, threads);
  const bool counted = frame[0].count != nullptr;
  NewList out(found.size());
  for (std::size_t p = 0; p < found.size(); ++p) {
    const fairlattice::FrameGroups& one = found[p];
    NewNumbers first(one.first.size());
    NewNumbers records(first.size()), n(first.size()), w(first.size()), w2(first.size());
    for (std::size_t g = 0; g < one.first.size(); ++g) {
      first[g] = static_cast<double>(one.first[g]) + 1;
      records[g] = counted ? one.records[g] : one.groups[g].n;
      n[g] = one.groups[g].n;
      w[g] = one.groups[g].w;
      w2[g] = one.groups[g].w2;
    }
    NewList replicates(one.replicates.size());
    for (std::size_t r = 0; r < one.replicates.size(); ++r)
      replicates.set(r, NewNumbers(one.replicates[r]));
    out.set(p, list({"first"_nm = first, "weight"_nm = one.weight, "count"_nm = one.count,
                     "there"_nm = NewLogicals(one.replicates_there), "records"_nm = records,
                     "n"_nm = n, "w"_nm = w, "w2"_nm = w2, "replicates"_nm = replicates}));
  }
  return out;
}

// The different values of a vector: records that have them (from 1), and of every record which it
// is, NA where it is missing.
[[cpp11::register]] SEXP different_kernel(SEXP x) {
  const std::size_t size = static_cast<std::size_t>(Rf_xlength(x));
  const fairlattice::Different found = fairlattice::different(column_of(x, size), size, NA_STRING);
  NewNumbers first(found.first);
  for (double& at : first) at += 1;
  NewIntegers code(found.code);
  for (int& one : code)
    if (!one) one = NA_INTEGER;
  return list({"first"_nm = first, "code"_nm = code});
}

[[cpp11::register]] SEXP lines_with_kernel(std::string path, std::string separator, int column,
                                           std::string text, int most) {
  must(separator.size() == 1 && column >= 0 && most >= 0, "what is looked for in a file");
  return NewNumbers(fairlattice::lines_with(path.c_str(), separator[0],
                                            static_cast<std::size_t>(column), text,
                                            static_cast<std::size_t>(most)));
}

namespace {

// What is written as JSON: lists with names are objects, others lists; data frames are lists of
// their rows; a vector of one is single. `readable` is asked of text that is not UTF-8.
class JsonOf {
 public:
  explicit JsonOf(SEXP readable) : readable_(readable) {}
  std::string operator()(SEXP x) {
    write(x);
    return out_.all();
  }

 private:
  void write(SEXP x) {
    if (Rf_isNull(x)) return out_.bare("null");
    if (Rf_inherits(x, "data.frame")) return rows(x);
    if (TYPEOF(x) == VECSXP) return list(x);
    const R_xlen_t size = Rf_xlength(x);
    if (size == 1) return single(x, 0);
    out_.open('[', false);
    for (R_xlen_t i = 0; i < size; ++i) single(x, i);
    out_.close();
  }

  void list(SEXP x) {
    SEXP names = Rf_getAttrib(x, R_NamesSymbol);
    const bool object = !Rf_isNull(names);
    const R_xlen_t size = Rf_xlength(x);
    bool tall = object;
    for (R_xlen_t i = 0; i < size && !tall; ++i) {
      SEXP one = VECTOR_ELT(x, i);
      tall = !Rf_isNull(one) && (TYPEOF(one) == VECSXP || Rf_xlength(one) != 1);
    }
    out_.open(object ? '{' : '[', tall);
    for (R_xlen_t i = 0; i < size; ++i) {
      if (object) text(STRING_ELT(names, i), true);
      write(VECTOR_ELT(x, i));
    }
    out_.close();
  }

  void rows(SEXP x) {
    SEXP names = Rf_getAttrib(x, R_NamesSymbol);
    const R_xlen_t columns = Rf_xlength(x), size = columns ? Rf_xlength(VECTOR_ELT(x, 0)) : 0;
    out_.open('[', true);
    for (R_xlen_t i = 0; i < size; ++i) {
      out_.open('{', true);
      for (R_xlen_t k = 0; k < columns; ++k) {
        SEXP column = VECTOR_ELT(x, k);
        must(Rf_xlength(column) == size, "columns of different lengths");
        text(STRING_ELT(names, k), true);
        if (TYPEOF(column) == VECSXP) {
          write(VECTOR_ELT(column, i));
        } else {
          single(column, i);
        }
      }
      out_.close();
    }
    out_.close();
  }

  void single(SEXP x, R_xlen_t i) {
    switch (TYPEOF(x)) {
      case LGLSXP: {
        const int value = LOGICAL(x)[i];
        return out_.bare(value == NA_LOGICAL ? "null" : value ? "true" : "false");
      }
      case INTSXP: {
        const int value = INTEGER(x)[i];
        if (value == NA_INTEGER) return out_.bare("null");
        if (Rf_isFactor(x))
          return text(STRING_ELT(Rf_getAttrib(x, R_LevelsSymbol), value - 1), false);
        return out_.number(value);
      }
      case REALSXP:
        return out_.number(REAL(x)[i]);
      case STRSXP:
        return text(STRING_ELT(x, i), false);
      default:
        must(false, "what JSON has no word for");
    }
  }

  void text(SEXP s, bool key) {
    if (s == NA_STRING && !key) return out_.bare("null");
    const char* from = CHAR(s);
    const std::size_t size = static_cast<std::size_t>(LENGTH(s));
    bool ascii = true;
    for (std::size_t i = 0; i < size && ascii; ++i)
      ascii = static_cast<unsigned char>(from[i]) < 0x80;
    if (ascii || (Rf_getCharCE(s) == CE_UTF8 && fairlattice::valid_utf8(from, size)))
      return put(from, size, key);
    const cpp11::sexp odd(cpp11::safe[Rf_ScalarString](s));
    const Texts read(readable_(static_cast<SEXP>(odd)));
    put(CHAR(read[0]), static_cast<std::size_t>(LENGTH(read[0])), key);
  }

  void put(const char* from, std::size_t size, bool key) {
    if (key) {
      out_.key(from, size);
    } else {
      out_.text(from, size);
    }
  }

  cpp11::function readable_;
  fairlattice::JsonText out_;
};

}  // namespace

[[cpp11::register]] SEXP json_text_kernel(SEXP x, SEXP readable) {
  const std::string text = JsonOf(readable)(x);
  return NewTexts(std::vector<std::string>{text});
}

namespace {

// A whole number that a double cannot hold exactly stays a text.
cpp11::sexp json_number(const std::string& text) {
  const double number = std::strtod(text.c_str(), nullptr);
  if (text.find_first_of(".eE") != std::string::npos) return cpp11::as_sexp(number);
  if (std::fabs(number) > 9007199254740991.0) return cpp11::as_sexp(text);
  if (std::fabs(number) <= INT_MAX) return cpp11::as_sexp(static_cast<int>(number));
  return cpp11::as_sexp(number);
}

cpp11::sexp value_of(const fairlattice::JsonTree& tree) {
  using Is = fairlattice::JsonTree::Is;
  if (tree.is == Is::null) return R_NilValue;
  if (tree.is == Is::no || tree.is == Is::yes) return cpp11::as_sexp(tree.is == Is::yes);
  if (tree.is == Is::number) return json_number(tree.text);
  if (tree.is == Is::text) return cpp11::safe[Rf_ScalarString](utf8(tree.text));
  const R_xlen_t size = static_cast<R_xlen_t>(tree.parts.size());
  const cpp11::sexp out(cpp11::safe[Rf_allocVector](VECSXP, size));
  for (R_xlen_t i = 0; i < size; ++i) SET_VECTOR_ELT(out, i, value_of(tree.parts[i]));
  if (tree.is == Is::record) {
    const cpp11::sexp names(cpp11::safe[Rf_allocVector](STRSXP, size));
    for (R_xlen_t i = 0; i < size; ++i) SET_STRING_ELT(names, i, utf8(tree.keys[i]));
    cpp11::safe[Rf_setAttrib](out, R_NamesSymbol, names);
  }
  return out;
}

}  // namespace

// What a text of JSON says, in a list of one; why it cannot be read: "fault", "too_deep", "zero".
[[cpp11::register]] SEXP json_tree_kernel(Texts text, int deepest) {
  must(text.size() == 1, "one text");
  const SEXP cell = STRING_ELT(text, 0);
  fairlattice::JsonTree tree;
  const auto found = fairlattice::read_json(CHAR(cell), CHAR(cell) + LENGTH(cell), deepest, tree);
  if (found == fairlattice::JsonRead::fault) return cpp11::as_sexp("fault");
  if (found == fairlattice::JsonRead::too_deep) return cpp11::as_sexp("too_deep");
  if (found == fairlattice::JsonRead::zero) return cpp11::as_sexp("zero");
  const cpp11::sexp out(cpp11::safe[Rf_allocVector](VECSXP, 1));
  SET_VECTOR_ELT(out, 0, value_of(tree));
  return out;
}

[[cpp11::register]] SEXP whole_text_kernel(Numbers x) {
  NewTexts out(x.size());
  for (R_xlen_t i = 0; i < x.size(); ++i) out.set(i, fairlattice::whole_text(x[i]));
  return out;
}

namespace {

// The finite numbers in a list of lists, data frames and vectors.
void add_numbers(SEXP x, std::vector<double>& out) {
  if (TYPEOF(x) == VECSXP) {
    for (R_xlen_t i = 0; i < Rf_xlength(x); ++i) add_numbers(VECTOR_ELT(x, i), out);
  } else if (TYPEOF(x) == REALSXP) {
    for (R_xlen_t i = 0; i < Rf_xlength(x); ++i)
      if (std::isfinite(REAL(x)[i])) out.push_back(REAL(x)[i]);
  } else if (TYPEOF(x) == INTSXP && !Rf_isFactor(x)) {
    for (R_xlen_t i = 0; i < Rf_xlength(x); ++i)
      if (INTEGER(x)[i] != NA_INTEGER) out.push_back(INTEGER(x)[i]);
  }
}

}  // namespace

// All of them with every digit, the smallest first, with a space between them.
[[cpp11::register]] SEXP numbers_text_kernel(SEXP x) {
  std::vector<double> numbers;
  add_numbers(x, numbers);
  std::stable_sort(numbers.begin(), numbers.end());
  std::string text;
  for (double number : numbers) {
    if (!text.empty()) text += ' ';
    text += fairlattice::whole_text(number);
  }
  return NewTexts(std::vector<std::string>{text});
}

[[cpp11::register]] double crc32_kernel(RawBytes bytes, double before) {
  return fairlattice::crc32(static_cast<std::uint32_t>(before), bytes.begin(), bytes.size());
}

[[cpp11::register]] SEXP sheet_extent_kernel(RawBytes bytes) {
  const fairlattice::Extent out = fairlattice::sheet_extent(bytes.begin(), bytes.size());
  cpp11::writable::doubles found({"rows"_nm = static_cast<double>(out.rows),
                                  "columns"_nm = static_cast<double>(out.columns),
                                  "cells"_nm = static_cast<double>(out.cells)});
  return found;
}

// Bytes that nobody can guess, from the system.
[[cpp11::register]] SEXP random_bytes_kernel(int size) {
  std::random_device source;
  NewBytes out(size);
  for (R_xlen_t at = 0; at < out.size(); ++at)
    out[at] = static_cast<unsigned char>(source() & 0xff);
  return out;
}

// Writes bytes to the process's standard output, all of them: 0, or the system's number of what
// went wrong; -1 when whoever read them has had enough. R itself says nothing of either.
[[cpp11::register]] int standard_output_kernel(RawBytes bytes) {
#ifdef SIGPIPE
  const auto before = std::signal(SIGPIPE, SIG_IGN);
#endif
  int fault = 0;
  for (R_xlen_t at = 0; at < bytes.size() && !fault;) {
    const auto written =
        write(1, bytes.begin() + at,
              static_cast<unsigned>(std::min<R_xlen_t>(bytes.size() - at, 1 << 20)));
    if (written > 0)
      at += written;
    else if (errno != EINTR)
      fault = errno == EPIPE ? -1 : errno ? errno : EIO;
  }
#ifdef SIGPIPE
  std::signal(SIGPIPE, before);
#endif
  return fault;
}

// Texts as content of XML: see append_xml_text().
[[cpp11::register]] SEXP xml_text_kernel(Texts texts, bool is_json) {
  const cpp11::sexp out(cpp11::safe[Rf_duplicate](static_cast<SEXP>(texts)));
  std::string own;
  for (R_xlen_t i = 0; i < texts.size(); ++i) {
    const SEXP text = texts[i];
    if (text == NA_STRING) continue;
    own.clear();
    const char* bytes = Rf_translateCharUTF8(text);
    if (fairlattice::append_xml_text(bytes, std::strlen(bytes), is_json, own))
      SET_STRING_ELT(out, i, utf8(own));
  }
  return out;
}

// The cells of a sheet, row by row, as the content of its rows: see append_sheet_cell().
[[cpp11::register]] SEXP sheet_rows_kernel(Integers row, Integers column, Texts letters, Texts kind,
                                           Texts value, Integers style) {
  const R_xlen_t size = row.size();
  must(column.size() == size && kind.size() == size && value.size() == size && style.size() == size,
       "cells of different lengths");
  std::vector<std::string> rows;
  for (R_xlen_t i = 0; i < size; ++i) {
    must(column[i] >= 1 && column[i] <= letters.size(), "a cell beyond the sheet");
    if (i == 0 || row[i] != row[i - 1]) rows.emplace_back();
    fairlattice::append_sheet_cell(row[i], CHAR(letters[column[i] - 1]), CHAR(kind[i])[0],
                                   Rf_translateCharUTF8(value[i]),
                                   style[i] == NA_INTEGER ? -1 : style[i], rows.back());
  }
  return NewTexts(rows);
}

namespace {

// Of what stands in a column at one place, and of what its answers are called.
std::uint64_t hash_at(SEXP column, R_xlen_t i) {
  switch (TYPEOF(column)) {
    case LGLSXP:
    case INTSXP:
      return fairlattice::mixed(static_cast<std::uint64_t>(INTEGER(column)[i]));
    case REALSXP:
      return fairlattice::hash_of(reinterpret_cast<const char*>(REAL(column) + i), sizeof(double));
    case STRSXP:
      return fairlattice::hash_of(CHAR(STRING_ELT(column, i)), LENGTH(STRING_ELT(column, i)));
    default:
      return 0;
  }
}

}  // namespace

// What tells these rows (from 1) of the columns from others: 32 hexadecimal digits.
[[cpp11::register]] std::string rows_hash_kernel(Integers rows, List columns) {
  std::uint64_t one = 1, other = 2;
  const auto add = [&](std::uint64_t own) {
    one = fairlattice::mixed(one ^ own);
    other = fairlattice::mixed(other + own);
  };
  for (int row : rows) add(static_cast<std::uint64_t>(row));
  for (R_xlen_t k = 0; k < columns.size(); ++k) {
    const SEXP column = columns[k];
    if (TYPEOF(column) == VECSXP) continue;  // times by their parts, and data frames
    const R_xlen_t size = Rf_xlength(column);
    for (int row : rows) {
      must(row >= 1 && row <= size, "a row beyond the records");
      add(hash_at(column, row - 1));
    }
    const SEXP answers = Rf_getAttrib(column, R_LevelsSymbol);
    for (R_xlen_t i = 0; i < Rf_xlength(answers) && TYPEOF(answers) == STRSXP; ++i)
      add(hash_at(answers, i));
  }
  char hash[33];
  std::snprintf(hash, sizeof hash, "%016llx%016llx", static_cast<unsigned long long>(one),
                static_cast<unsigned long long>(other));
  return hash;
}

// Whether an interrupt ends the process at once, and removes the folder `scratch`.
[[cpp11::register]] void end_at_interrupt_kernel(bool at_once, std::string scratch) {
  if (at_once)
    fairlattice::end_at_interrupt(scratch);
  else
    fairlattice::leave_interrupt_to_r();
}

// How deep brackets are nested in a text of JSON.
[[cpp11::register]] int json_depth_kernel(Texts text) {
  must(text.size() == 1, "one text");
  const SEXP cell = STRING_ELT(text, 0);
  return fairlattice::json_depth(CHAR(cell), static_cast<std::size_t>(LENGTH(cell)));
}

// Whether none of these options is set.
[[cpp11::register]] bool options_unset_kernel(SEXP names) {
  must(TYPEOF(names) == STRSXP, "options have names");
  for (R_xlen_t i = 0; i < XLENGTH(names); ++i)
    if (!Rf_isNull(Rf_GetOption1(Rf_installChar(STRING_ELT(names, i))))) return false;
  return true;
}

// Counts, or other figures, with so many decimals (recycled): "-1,234.5".
[[cpp11::register]] SEXP figure_text_kernel(SEXP x, SEXP digits, bool counts) {
  return texts_of(x, digits, counts ? fairlattice::count_text : fairlattice::number_text, "-");
}

// The same with the usual sign of a figure below zero; NULL when one of the `options` is set.
[[cpp11::register]] SEXP usual_text_kernel(SEXP x, SEXP digits, bool counts, SEXP options) {
  if (!options_unset_kernel(options)) return R_NilValue;
  return texts_of(x, digits, counts ? fairlattice::count_text : fairlattice::number_text, "\u2212");
}

// inv(A) B for a covariance A; NULL when A is singular.
[[cpp11::register]] SEXP solved_kernel(Matrix A, Matrix B) {
  must(A.nrow() == A.ncol() && B.nrow() == A.nrow(),
       "a covariance and what it is to divide do not agree");
  const cpp11::sexp out(cpp11::safe[Rf_duplicate](static_cast<SEXP>(B)));
  if (!fairlattice::divide_by_covariance(std::vector<double>(A.begin(), A.end()), A.nrow(),
                                         REAL(out), B.ncol()))
    return R_NilValue;
  return out;
}

// Sums of scores over groups, one row a group and one column a cell.
[[cpp11::register]] SEXP score_totals_kernel(Integers group, Integers cell, Numbers w, Numbers p,
                                             double total, int groups) {
  must(group.size() == w.size() && cell.size() == w.size(), "scores of different lengths");
  const R_xlen_t cells = p.size();
  for (int k : group) must(k >= 1 && k <= groups, "a group lies outside");
  for (int k : cell) must(k >= 1 && k <= cells, "a cell beyond the table");
  NewMatrix out(groups, p.size());
  fairlattice::score_totals(std::vector<int>(group.begin(), group.end()),
                            std::vector<int>(cell.begin(), cell.end()),
                            std::vector<double>(w.begin(), w.end()),
                            std::vector<double>(p.begin(), p.end()), total, groups, out.begin());
  return out;
}

// Scores of residuals from independence, from scores of the proportions P.
[[cpp11::register]] SEXP residual_scores_kernel(Matrix scores, Matrix P) {
  must(static_cast<R_xlen_t>(scores.ncol()) == P.size(), "scores and proportions do not agree");
  std::vector<double> rows(P.nrow()), columns(P.ncol());
  for (int j = 0; j < P.ncol(); ++j)
    for (int i = 0; i < P.nrow(); ++i) {
      rows[i] += P(i, j);
      columns[j] += P(i, j);
    }
  NewMatrix out(scores.nrow(), scores.ncol());
  fairlattice::residual_scores(scores.begin(), scores.nrow(), rows, columns, out.begin());
  return out;
}

// Sums of squares of the scores of the shares of P: of its columns, its rows or the whole
// ("column", "row", "total").
[[cpp11::register]] SEXP share_squares_kernel(Matrix scores, Matrix P, std::string percent) {
  must(scores.ncol() == P.size(), "scores and shares do not agree");
  NewNumbers out(P.size());
  fairlattice::share_squares(scores.begin(), scores.nrow(), std::vector<double>(P.begin(), P.end()),
                             P.nrow(), percent == "column", percent == "row", out.begin());
  return out;
}

// The place of the largest figure of every column, the first of several.
[[cpp11::register]] SEXP column_peaks_kernel(Matrix x) {
  NewIntegers out(x.ncol());
  for (int j = 0; j < x.ncol(); ++j) {
    const double* column = x.begin() + static_cast<R_xlen_t>(j) * x.nrow();
    out[j] = static_cast<int>(std::max_element(column, column + x.nrow()) - x.begin()) + 1;
  }
  return out;
}

// p-values corrected for how many there are; those that are missing are not counted.
[[cpp11::register]] SEXP corrected_kernel(Numbers p, std::string correction) {
  const cpp11::sexp out(cpp11::safe[Rf_duplicate](static_cast<SEXP>(p)));
  fairlattice::correct(REAL(out), p.size(), fairlattice::correction_of(correction));
  return out;
}

// The tally's cells `at`, with their rows and columns in a table.
[[cpp11::register]] SEXP cells_at_kernel(List cells, Integers at, Integers row, Integers column) {
  const Integers unit(cells.part("unit"));
  const Numbers w(cells.part("w")), w2(cells.part("w2")), n(cells.part("n"));
  const R_xlen_t size = at.size(), most = w.size();
  must(row.size() == most && column.size() == most, "cells of different lengths");
  NewIntegers units(size), rows(size), columns(size);
  NewNumbers weights(size), squares(size), counts(size);
  for (R_xlen_t k = 0; k < size; ++k) {
    must(at[k] >= 1 && at[k] <= most, "a cell beyond the tally");
    const R_xlen_t from = at[k] - 1;
    units[k] = unit[from];
    rows[k] = row[from];
    columns[k] = column[from];
    weights[k] = w[from];
    squares[k] = w2[from];
    counts[k] = n[from];
  }
  return list({"unit"_nm = units, "row"_nm = rows, "column"_nm = columns, "w"_nm = weights,
               "w2"_nm = squares, "n"_nm = counts});
}

// Of cells of a tally, by their codes on every side (0: no answer given) and which codes are none:
// the records that each code leaves out, those that a side before has left out not counted, and
// which cells are left.
[[cpp11::register]] SEXP left_out_kernel(List codes, List none, Numbers records) {
  must(codes.size() == none.size(), "sides of different numbers");
  const R_xlen_t size = records.size();
  NewLogicals used(size);
  std::fill(used.begin(), used.end(), TRUE);
  NewList out(codes.size());
  for (R_xlen_t side = 0; side < codes.size(); ++side) {
    const Integers code(codes[side]);
    const Logicals missing(none[side]);
    must(code.size() == size, "codes and records do not agree");
    const R_xlen_t most = missing.size();
    NewNumbers left(most);
    for (R_xlen_t k = 0; k < size; ++k) {
      must(code[k] >= 0 && code[k] < most, "a code beyond the answers");
      if (!used[k] || !missing[code[k]]) continue;
      left[code[k]] += records[k];
      used[k] = FALSE;
    }
    out.set(side, left);
  }
  return list({"records"_nm = out, "used"_nm = used});
}

// The tables of respondents, weights and squared weights that cells add up to; `answers` name the
// rows and columns.
[[cpp11::register]] SEXP table_sums_kernel(List cells, List answers) {
  const Integers row(cells.part("row")), column(cells.part("column"));
  const int rows = Rf_length(answers[0]), columns = Rf_length(answers[1]);
  const R_xlen_t size = row.size();
  for (R_xlen_t k = 0; k < size; ++k)
    must(row[k] >= 1 && row[k] <= rows && column[k] >= 1 && column[k] <= columns,
         "a cell beyond the table");
  auto table = [&](const char* what) {
    const Numbers values(cells.part(what));
    NewMatrix out(rows, columns);
    double* sums = out.begin();
    const R_xlen_t height = rows;
    for (R_xlen_t k = 0; k < size; ++k) sums[row[k] - 1 + height * (column[k] - 1)] += values[k];
    cpp11::safe[Rf_setAttrib](static_cast<SEXP>(out), R_DimNamesSymbol, static_cast<SEXP>(answers));
    return out;
  };
  return list({"n"_nm = table("n"), "w"_nm = table("w"), "w2"_nm = table("w2")});
}

// What stands at each path, links followed: 0 nothing, 1 a file, 2 a folder, 3 anything else.
[[cpp11::register]] SEXP kind_of_file_kernel(Texts paths) {
  const R_xlen_t size = paths.size();
  NewIntegers out(size);
  for (R_xlen_t k = 0; k < size; ++k)
    out[k] = fairlattice::kind_of_file(Rf_translateChar(paths[k]));
  return out;
}

[[cpp11::register]] SEXP is_running_kernel(Integers processes) {
  const R_xlen_t size = processes.size();
  NewLogicals out(size);
  for (R_xlen_t k = 0; k < size; ++k) {
    must(processes[k] != NA_INTEGER && processes[k] > 0, "a process without a number");
    out[k] = fairlattice::is_running(processes[k]);
  }
  return out;
}

// The most that can flow between two points (1-based) of a network, up to `enough`.
[[cpp11::register]] double most_flow_kernel(Matrix capacity, int source, int sink, double enough) {
  const int points = capacity.nrow();
  must(capacity.ncol() == points, "capacities that are not square");
  must(source >= 1 && source <= points && sink >= 1 && sink <= points, "a point that is not there");
  return fairlattice::most_flow(std::vector<double>(capacity.begin(), capacity.end()), points,
                                source - 1, sink - 1, enough);
}
