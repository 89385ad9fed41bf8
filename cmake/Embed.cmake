# badger_embed(VARIABLE FILE): writes generated/embedded/VARIABLE.h and .cpp that hold FILE as text,
# and adds the .cpp to TARGET. The core then needs no path to its own data at run time.
function(badger_embed target variable file)
  set(source ${CMAKE_SOURCE_DIR}/${file})
  set(directory ${CMAKE_BINARY_DIR}/generated/embedded)
  set(output ${directory}/${variable}.cpp)
  file(MAKE_DIRECTORY ${directory})
  add_custom_command(
    OUTPUT ${output}
    COMMAND ${CMAKE_COMMAND} -DSOURCE=${source} -DOUTPUT=${output} -DVARIABLE=${variable}
            -P ${CMAKE_SOURCE_DIR}/cmake/EmbedText.cmake
    DEPENDS ${source} ${CMAKE_SOURCE_DIR}/cmake/EmbedText.cmake
    COMMENT "Embedding ${file}"
    VERBATIM)
  file(WRITE ${directory}/${variable}.h.new
"#pragma once
#include <string_view>
namespace badger::embedded {
extern const std::string_view ${variable}; ///< the text of ${file}
}
")
  file(COPY_FILE ${directory}/${variable}.h.new ${directory}/${variable}.h ONLY_IF_DIFFERENT)
  target_sources(${target} PRIVATE ${output})
endfunction()
