// What R does not tell of a path or a process.
#pragma once
#include <string>

namespace fairlattice {

// What stands at a path, links followed: 0 nothing, 1 a file, 2 a folder, 3 anything else (a
// device, a pipe, a socket).
int kind_of_file(const std::string& path);

// Whether a process of this machine is at work, whoever's it is.
bool is_running(int process);

}  // namespace fairlattice
