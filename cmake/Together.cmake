# badger_unhurried(TARGET): what runs once a call is not optimised in the Dev build. (The window is: its
# tests took a minute longer.)
function(badger_unhurried target)
  target_compile_options(${target} PRIVATE $<$<CONFIG:Dev>:-O0>)
endfunction()

# badger_together(TARGET): its files are compiled together, in the order of their paths and as many in
# one step as make about 70,000 bytes, save those with options of their own. What they include and
# instantiate in common is then made once: half of a build's work. Two helpers of one name in files
# of one namespace are refused by the compiler: they belong in a header of their folder.
# With -DBADGER_TOGETHER=OFF each file is compiled alone, as it must be able to.
#
# CMake's own way to do so names the files with the folder of the clone; a compiler cache that was
# filled by another clone then knows none of them. Here they are named from the root of the sources.
option(BADGER_TOGETHER "Compile a target's files together" ON)
function(badger_together target)
  if(NOT BADGER_TOGETHER)
    return()
  endif()
  get_target_property(sources ${target} SOURCES)
  list(FILTER sources INCLUDE REGEX "\\.cpp$")
  list(SORT sources)
  set(group -1)
  set(bytes 70000)
  foreach(source ${sources})
    get_filename_component(path ${source} ABSOLUTE)
    get_source_file_property(own ${source} COMPILE_OPTIONS)
    if(own OR NOT EXISTS ${path} OR path MATCHES "^${CMAKE_BINARY_DIR}/")
      continue()
    endif()
    if(bytes GREATER_EQUAL 70000)
      math(EXPR group "${group}+1")
      set(bytes 0)
    endif()
    file(SIZE ${path} size)
    math(EXPR bytes "${bytes}+${size}")
    file(RELATIVE_PATH name ${CMAKE_SOURCE_DIR} ${path})
    string(APPEND text_${group} "#include <${name}>\n")
    set_source_files_properties(${source} PROPERTIES HEADER_FILE_ONLY ON)
  endforeach()
  foreach(number RANGE ${group})
    set(file ${CMAKE_BINARY_DIR}/together/${target}/${number}.cpp)
    file(CONFIGURE OUTPUT ${file} CONTENT "${text_${number}}" @ONLY)
    target_sources(${target} PRIVATE ${file})
  endforeach()
endfunction()
