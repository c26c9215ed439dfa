# SPDX-License-Identifier: GPL-3.0-or-later
# Compiler settings that every target of the project shares.

find_program(CCACHE_PROGRAM ccache)
if(CCACHE_PROGRAM AND NOT CMAKE_CXX_COMPILER_LAUNCHER)
  # What one clone compiled serves another, wherever it stands; the sloppiness is what precompiled headers ask for.
  set(CMAKE_CXX_COMPILER_LAUNCHER env CCACHE_BASEDIR=${CMAKE_SOURCE_DIR} CCACHE_NOHASHDIR=1
      CCACHE_SLOPPINESS=pch_defines,time_macros,include_file_mtime,include_file_ctime ${CCACHE_PROGRAM})
endif()

# Most of a source's compile time is that of the headers it shares with its neighbours, so that several together cost little more
# than one. The price: two sources of one library may not use one name for themselves.
set(CMAKE_UNITY_BUILD ON)
set(CMAKE_UNITY_BUILD_BATCH_SIZE 6)

add_library(eh_compiler INTERFACE)
# GCC 12 sees overlaps in std::string concatenation that are not there (its bug 105329).
target_compile_options(eh_compiler INTERFACE $<$<CXX_COMPILER_ID:GNU>:-Wno-restrict -Wno-stringop-overflow> -Wno-array-bounds -Wall -Wextra -Wconversion -Wshadow -Wno-sign-conversion)
target_compile_definitions(eh_compiler INTERFACE EH_VERSION="${PROJECT_VERSION}")

# Assertions tell where in the tree they stand, not where the tree stands.
target_compile_options(eh_compiler INTERFACE -ffile-prefix-map=${CMAKE_SOURCE_DIR}=.)

if(EH_ASSERTIONS)
  string(REPLACE "-DNDEBUG" "" CMAKE_CXX_FLAGS_RELWITHDEBINFO "${CMAKE_CXX_FLAGS_RELWITHDEBINFO}")
  string(REPLACE "-g" "-g1" CMAKE_CXX_FLAGS_RELWITHDEBINFO "${CMAKE_CXX_FLAGS_RELWITHDEBINFO}")
endif()

if(EH_COVERAGE)
  target_compile_options(eh_compiler INTERFACE -fprofile-instr-generate -fcoverage-mapping -O1)
  target_link_options(eh_compiler INTERFACE -fprofile-instr-generate)
endif()

if(EH_SANITIZE)
  # Little optimised: it is built on every run of the checks, and most of that is the compiler's time.
  target_compile_options(eh_compiler INTERFACE -fsanitize=${EH_SANITIZE} -fno-omit-frame-pointer -O1)
  target_link_options(eh_compiler INTERFACE -fsanitize=${EH_SANITIZE})
endif()

# eh_library(NAME SOURCES... LINKS ...): a layer. Headers are included from the project's root.
function(eh_library name)
  cmake_parse_arguments(ARG "" "" "SOURCES;LINKS" ${ARGN})
  add_library(${name} STATIC ${ARG_SOURCES})
  target_include_directories(${name} PUBLIC ${CMAKE_SOURCE_DIR})
  target_link_libraries(${name} PUBLIC ${ARG_LINKS} PRIVATE eh_compiler)
endfunction()

# eh_program(NAME SOURCES... LINKS ...)
function(eh_program name)
  cmake_parse_arguments(ARG "" "" "SOURCES;LINKS" ${ARGN})
  add_executable(${name} ${ARG_SOURCES})
  target_include_directories(${name} PRIVATE ${CMAKE_SOURCE_DIR})
  target_link_libraries(${name} PRIVATE ${ARG_LINKS} eh_compiler)
endfunction()

# eh_command_line_program(NAME SOURCES... LINKS ...): its sources read the command line and hand over to the
# libraries; the optimiser would spend half a minute on the parser's templates. What is shipped pays that: of functions
# that stand in headers, the linker takes the first copy it meets, which is the program's own, for the libraries too.
function(eh_command_line_program name)
  eh_program(${name} ${ARGN})
  target_link_libraries(${name} PRIVATE CLI11::CLI11)
  target_compile_options(${name} PRIVATE $<$<NOT:$<CONFIG:Release>>:-O0>)
endfunction()
