// SPDX-License-Identifier: GPL-3.0-or-later
// The last catch of a program: what nobody expected ends it with a sentence and an exit code, not with an
// abort.
#pragma once

#include <cstdio>
#include <exception>

namespace eh {

// What `run` gives back; 1 when it throws, after a sentence on standard error that begins with the program's
// name.
template <typename Run>
int guarded_main(const char* program, const Run& run) noexcept {
    try {
        return run();
    } catch (const std::exception& problem) {
        std::fprintf(stderr,
                     "%s: something went wrong that the program does not know (%s); please report it with "
                     "the command and the file that led to it\n",
                     program, problem.what());
        return 1;
    } catch (...) {
        std::fprintf(stderr,
                     "%s: something went wrong that the program does not know; please report it with the "
                     "command and the file that led to it\n",
                     program);
        return 1;
    }
}

}  // namespace eh
