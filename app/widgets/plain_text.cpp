// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/plain_text.h"

#include <QApplication>
#include <QEvent>
#include <QLabel>

namespace badger::app
{

namespace
{

const auto marker = QStringLiteral("showTextsAsTexts");

/// Sees every label before it is shown or measured, which is before its text is parsed.
class PlainTexts final : public QObject
{
public:
    using QObject::QObject;

    bool eventFilter(QObject *watched, QEvent *event) override
    {
        if (event->type() == QEvent::Polish)
            if (auto *label = qobject_cast<QLabel *>(watched);
                label && !label->property("links").toBool())
                label->setTextFormat(Qt::PlainText);
        return false;
    }
};

} // namespace

void showTextsAsTexts(QApplication &application)
{
    if (application.findChild<QObject *>(marker, Qt::FindDirectChildrenOnly) != nullptr)
        return;
    auto *filter = new PlainTexts(&application);
    filter->setObjectName(marker);
    application.installEventFilter(filter);
}

QString buttonText(const QString &text)
{
    auto plain = text;
    return plain.replace('&', "&&");
}

} // namespace badger::app
