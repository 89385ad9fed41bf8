# Writes OUTPUT: a C++ file that defines VARIABLE as the bytes of SOURCE.
file(READ ${SOURCE} hex HEX)
string(REGEX REPLACE "([0-9a-f][0-9a-f])" "0x\\1," bytes "${hex}")
string(REGEX REPLACE "((0x[0-9a-f][0-9a-f],){16})" "\\1\n" bytes "${bytes}")
file(WRITE ${OUTPUT}
"#include \"embedded/${VARIABLE}.h\"
namespace {
const unsigned char bytes[] = {
${bytes}0};
}
namespace badger::embedded {
const std::string_view ${VARIABLE}(reinterpret_cast<const char *>(bytes), sizeof(bytes) - 1);
}
")
