// SPDX-License-Identifier: GPL-3.0-or-later
// Which colours, type sizes and spacings are there?
//
// This is the only file (with theme.cpp) that states a colour or a size. Everything drawn asks
// here.
#pragma once

#include "core/rules/program.h"

#include <QColor>
#include <QFont>
#include <QObject>
#include <QString>

class QApplication;

namespace badger::app
{

enum class Tone { Paper, Sheet, Rule, Ink, Ink2, Ochre, Result, Brick, Go, Stand, Back, Turn };

/// The type scale; the headline is Title in bold, the one number that matters may be Big.
enum class Type { Small, Body, Lead, Title, Big };

class Theme final : public QObject
{
    Q_OBJECT
public:
    enum class Palette { Light, Dark, Projector };
    Q_ENUM(Palette)

    explicit Theme(QObject *parent = nullptr);

    Palette palette() const { return m_palette; }
    void setPalette(Palette palette);
    void apply(QApplication &application) const;

    QColor color(Tone tone) const;
    QColor color(rules::Act act) const;
    /// A jumper wire's real colour by its name; ink for a name nobody knows.
    QColor wire(const QString &name) const;
    static const QStringList &wireNames();

    int size(Type type) const; ///< in pixels
    QFont text(Type type = Type::Body, bool bold = false) const;
    QFont figures(Type type = Type::Body) const; ///< for code and sums
    /// n steps of the spacing unit (4 px; more for the projector).
    int space(int n) const;
    qreal line() const;  ///< of a drawn line
    qreal scale() const; ///< of type and of what holds it, 1 on the bench
    QString styleSheet() const;

    /// Loads the embedded fonts; false when one is missing.
    static bool loadFonts();

signals:
    void changed();

private:
    Palette m_palette = Palette::Light;
};

} // namespace badger::app
