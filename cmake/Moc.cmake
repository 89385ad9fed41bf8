# badger_moc(TARGET): its files with Q_OBJECT go through moc, which reads nothing but them.
get_target_property(MOC Qt6::moc IMPORTED_LOCATION)
configure_file(${CMAKE_CURRENT_LIST_DIR}/moc.in ${CMAKE_BINARY_DIR}/moc @ONLY
  FILE_PERMISSIONS OWNER_READ OWNER_WRITE OWNER_EXECUTE)
function(badger_moc target)
  set_target_properties(${target} PROPERTIES AUTOMOC ON AUTOMOC_COMPILER_PREDEFINES OFF
    AUTOMOC_EXECUTABLE ${CMAKE_BINARY_DIR}/moc)
endfunction()
