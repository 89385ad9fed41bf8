// SPDX-License-Identifier: GPL-3.0-or-later
// One thing to measure, as a tag with its mark.
#pragma once

#include "app/theme/theme.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/judge/tune_judgement.h"

#include <QPushButton>

namespace badger::app
{

/// "ruler:ranger", "turn:".
inline QString keyOf(const judge::BenchItem &item)
{
    return QString("%1:%2").arg(tune::key(item.what), str(item.instance));
}

inline judge::GateState stateOf(const judge::BenchItem &item)
{
    if (!item.record)
        return judge::GateState::Open;
    if (!item.stale.empty())
        return judge::GateState::Stale;
    return item.verdict.good ? judge::GateState::Passed : judge::GateState::Warning;
}

/// A tag with its mark: "ranger" over "ranger against ruler".
class ItemTag final : public QPushButton
{
public:
    ItemTag(const judge::BenchItem &item, const Theme &theme)
        : m_state(stateOf(item)), m_theme(theme),
          m_title(item.instance.empty() ? QObject::tr("car") : str(item.instance)),
          m_words(str(tune::shortWords(item.what)))
    {
        setCheckable(true);
        setFlat(true);
        setCursor(Qt::PointingHandCursor);
        setObjectName("bench " + keyOf(item));
        setAccessibleName(
            QString("%1, %2, %3").arg(m_title, str(tune::words(item.what)), judge::name(m_state)));
        setToolTip(QString());
    }
    QSize sizeHint() const override
    {
        const QFontMetrics bold(m_theme.text(Type::Body, true));
        const QFontMetrics small(m_theme.text(Type::Small));
        const qreal s = m_theme.scale();
        return {qRound(34 * s) +
                    std::max(bold.horizontalAdvance(m_title), small.horizontalAdvance(m_words)),
                qRound(42 * s)};
    }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        const qreal s = m_theme.scale();
        if (isChecked() || underMouse()) {
            p.fillRect(rect(), m_theme.color(Tone::Sheet));
            p.fillRect(QRectF(0, height() - 3 * s, width(), 3 * s),
                       m_theme.color(isChecked() ? Tone::Ochre : Tone::Rule));
        }
        paintMark(p, QRectF(8 * s, 8 * s, 13 * s, 13 * s), m_state, m_theme);
        p.setPen(m_theme.color(Tone::Ink));
        p.setFont(m_theme.text(Type::Body, true));
        p.drawText(QPointF(28 * s, 19 * s), m_title);
        p.setPen(m_theme.color(Tone::Ink2));
        p.setFont(m_theme.text(Type::Small));
        p.drawText(QPointF(28 * s, 34 * s), m_words);
        if (hasFocus())
            paintFocus(p, *this, m_theme);
    }

private:
    judge::GateState m_state;
    const Theme &m_theme;
    QString m_title;
    QString m_words;
};

} // namespace badger::app
