# SPDX-License-Identifier: GPL-3.0-or-later
# Rooms: the folders of core/ and evaluation/, each a library of its own, linked against the rooms that rooms.txt lets it include and
# against no others.
set(EH_ROOMS_FILE ${CMAKE_CURRENT_LIST_DIR}/../rooms.txt)
set_property(DIRECTORY APPEND PROPERTY CMAKE_CONFIGURE_DEPENDS ${EH_ROOMS_FILE})
file(STRINGS ${EH_ROOMS_FILE} EH_ROOM_LINES REGEX "^(core|evaluation)[a-z/]*:")
set(EH_ROOMS)
foreach(line IN LISTS EH_ROOM_LINES)
  string(REGEX REPLACE ":.*" "" folder "${line}")
  list(APPEND EH_ROOMS ${folder})
endforeach()

# eh_room(FOLDER SOURCES ... LINKS ...): its library is called after the folder, eh_core_usbc for core/usbc. LINKS are packages.
function(eh_room folder)
  cmake_parse_arguments(ARG "" "" "SOURCES;LINKS" ${ARGN})
  string(REPLACE "/" "_" name "eh_${folder}")
  eh_library(${name} SOURCES ${ARG_SOURCES} LINKS ${ARG_LINKS})
  foreach(line IN LISTS EH_ROOM_LINES)
    if(line MATCHES "^${folder}:(.*)$")
      string(REPLACE "/" "_" below "${CMAKE_MATCH_1}")
      string(REGEX MATCHALL "[a-z_]+" below "${below}")
      list(TRANSFORM below PREPEND "eh_")
      target_link_libraries(${name} PUBLIC ${below})
    endif()
  endforeach()
  if(NOT folder STREQUAL "core/base")
    target_precompile_headers(${name} REUSE_FROM eh_core_base)
  endif()
endfunction()
