// SPDX-License-Identifier: GPL-3.0-or-later
// The keys of a kind as fields, each with what it is at first and what it means.
#pragma once

#include "app/theme/theme.h"
#include "core/floor/generate.h"

#include <QWidget>

class QGridLayout;

namespace badger::app
{

class KeyForm final : public QWidget
{
    Q_OBJECT
public:
    /// Fields are called `prefix` and their key; `width` in pixels at bench size.
    KeyForm(const Theme &theme, QString prefix, int width, QWidget *parent = nullptr);
    void ask(const std::vector<floor::Key> &keys);

    /// Puts a value into a field; a word that its key does not have is left out.
    void set(const std::string &key, const QString &value);
    /// In the order of the keys.
    struct Typed {
        std::string key;
        std::string first; ///< what it is where nothing is said
        QString text;
    };
    std::vector<Typed> typed() const;

signals:
    void edited();

private:
    struct Field {
        std::string key;
        std::string first;
        QWidget *widget;
    };
    const Theme &m_theme;
    QString m_prefix;
    int m_width;
    QGridLayout *m_form;
    std::vector<Field> m_fields;
    std::vector<QWidget *> m_labels;
};

} // namespace badger::app
