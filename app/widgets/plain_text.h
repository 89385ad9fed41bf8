// SPDX-License-Identifier: GPL-3.0-or-later
// How does a label show a name that looks like markup? As the name.
#pragma once

#include <QString>

class QApplication;

namespace badger::app
{

/// From now on no label of the application, and no tooltip, which is one, takes its text for rich
/// text: names come from files, and markup in them could load what it likes. Calling it again
/// changes nothing. A label with the property "links" keeps its markup: whoever fills it passes
/// every name through markup().
void showTextsAsTexts(QApplication &application);

/// The text of a button or a menu entry, in which an ampersand would mean a key.
QString buttonText(const QString &text);

} // namespace badger::app
