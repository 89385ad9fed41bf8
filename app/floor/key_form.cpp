// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/key_form.h"

#include "app/widgets/text.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>

namespace badger::app
{

KeyForm::KeyForm(const Theme &theme, QString prefix, int width, QWidget *parent)
    : QWidget(parent), m_theme(theme), m_prefix(std::move(prefix)), m_width(width)
{
    m_form = new QGridLayout(this);
    m_form->setContentsMargins(0, 0, 0, 0);
    m_form->setHorizontalSpacing(theme.space(3));
    m_form->setColumnStretch(2, 1);
}

void KeyForm::ask(const std::vector<floor::Key> &keys)
{
    const auto drop = [](QWidget *w) { // the field that asks for it may be among them
        w->hide();
        w->setParent(nullptr);
        w->deleteLater();
    };
    for (auto *w : m_labels)
        drop(w);
    for (auto &f : m_fields)
        drop(f.widget);
    m_labels.clear();
    m_fields.clear();
    int row = 0;
    for (const auto &key : keys) {
        QWidget *field = nullptr;
        if (key.words.empty()) {
            auto *line = new QLineEdit(str(key.first));
            line->setFixedWidth(qRound(m_width * m_theme.scale()));
            connect(line, &QLineEdit::textEdited, this, &KeyForm::edited);
            field = line;
        } else {
            auto *box = new QComboBox;
            for (const auto &w : key.words)
                box->addItem(str(w));
            connect(box, &QComboBox::activated, this, &KeyForm::edited);
            field = box;
        }
        field->setObjectName(m_prefix + str(key.name));
        auto *label = new QLabel(str(key.name));
        label->setBuddy(field);
        auto *what = new QLabel(tr(key.what));
        what->setProperty("small", true);
        what->setWordWrap(true);
        m_form->addWidget(label, row, 0);
        m_form->addWidget(field, row, 1);
        m_form->addWidget(what, row, 2);
        m_labels.insert(m_labels.end(), {label, what});
        m_fields.push_back({key.name, key.first, field});
        ++row;
    }
}

void KeyForm::set(const std::string &key, const QString &value)
{
    for (auto &f : m_fields)
        if (f.key == key) {
            if (auto *line = qobject_cast<QLineEdit *>(f.widget))
                line->setText(value);
            else
                static_cast<QComboBox *>(f.widget)->setCurrentText(value);
        }
}

std::vector<KeyForm::Typed> KeyForm::typed() const
{
    std::vector<Typed> all;
    for (const auto &f : m_fields) {
        const auto *line = qobject_cast<QLineEdit *>(f.widget);
        all.push_back({f.key, f.first,
                       line ? line->text() : static_cast<QComboBox *>(f.widget)->currentText()});
    }
    return all;
}

} // namespace badger::app
