// SPDX-License-Identifier: GPL-3.0-or-later
// eager-hound-cli: JSON on standard output, errors for people on standard error.
#include "cli/command_line.h"
#include "core/base/guarded_main.h"

int main(int argc, char** argv) {
    return eh::guarded_main("eager-hound-cli", [&] { return eh::cli::CommandLine().run(argc, argv); });
}
