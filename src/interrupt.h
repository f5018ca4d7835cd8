// A driver of a database that is in a query does not notice an interrupt before the query ends. A
// program (not a session) that asks it can end at once instead, like one that knows nothing of
// signals: nothing is written yet.
#pragma once
#include <string>

namespace fairlattice {

// From now on an interrupt says so, removes `scratch` (the folder of temporary files)
// and ends the process.
void end_at_interrupt(const std::string& scratch);
// An interrupt is R's again.
void leave_interrupt_to_r();

}  // namespace fairlattice
