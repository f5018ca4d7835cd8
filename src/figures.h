// How a figure is written.
#pragma once
#include <string>

namespace fairlattice {

// A count with so many decimals and commas between thousands: "1,234.5". Empty for
// one that is missing.
std::string count_text(double x, int digits);

// A figure with so many decimals, never "-0.00"; one of a million or more in powers of ten.
std::string number_text(double x, int digits);

// As few of 15 to 17 digits as bring the same number back, read by the C library.
std::string whole_text(double x);

}  // namespace fairlattice
