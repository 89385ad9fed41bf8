// SPDX-License-Identifier: GPL-3.0-or-later
// How does text that people or files chose enter a medium where some characters mean something?
//
// Names, notes and colours of wires come from files and may hold anything. Each function here takes
// such a text (UTF-8; bytes that are not are replaced by U+FFFD) and gives what stands for it in
// one medium, so that it can end nothing, begin nothing and hide nothing there. Nothing else in the
// program escapes.
#pragma once

#include <string>
#include <string_view>

namespace badger::medium
{

/// On one line of a screen or of paper: each control character and each character that reorders
/// text is shown as its picture (␊, ␛) or as �. Markup stays as it is: a plain label shows it.
std::string line(std::string_view text);

/// As line(), but line ends and tabs stay: for a terminal, whose escapes can do anything.
std::string terminal(std::string_view text);

/// JSON text for a terminal: control characters that JSON allows bare (U+007F to U+009F and those
/// that reorder text) become \u escapes, so that every reader still gets the same value.
std::string terminalJson(std::string_view json);

/// Inside an element or a double-quoted attribute of XML, SVG or HTML. As line(), with < > & " '
/// written as entities: XML has no way to write a control character at all.
std::string xml(std::string_view text);

/// Inside a comment to the end of the line or a double-quoted string of C++ or Python: as line(),
/// with backslash and quote as '_'. (A trigraph is broken up by its '?' becoming '_'.)
std::string source(std::string_view text);

/// A field of CSV (RFC 4180): quoted where it holds a comma, semicolon, quote or line end. A text
/// that a spreadsheet would take for a formula (= + @ - or a tab before it) gets an apostrophe in
/// front, which csvValue() takes off again; numbers stay as they are.
std::string csv(std::string_view text);

/// The text of a field that csv() wrote, once it is out of its quotes.
std::string csvValue(std::string_view field);

/// At most `longest` characters, whole ones, with "..." where something was cut.
std::string shortened(std::string_view text, std::size_t longest);

/// Are these bytes UTF-8?
bool isUtf8(std::string_view bytes);

} // namespace badger::medium
