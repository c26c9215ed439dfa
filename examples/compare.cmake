# SPDX-License-Identifier: GPL-3.0-or-later
# Runs PROGRAM with ARGUMENTS and fails where it does not say what stands in EXPECTED.
execute_process(COMMAND ${PROGRAM} ${ARGUMENTS} OUTPUT_VARIABLE said RESULT_VARIABLE result)
file(READ ${EXPECTED} expected)
if(NOT result EQUAL 0 OR NOT said STREQUAL expected)
  message(FATAL_ERROR "${PROGRAM} ended with ${result} and said\n${said}where\n${expected}was expected")
endif()
