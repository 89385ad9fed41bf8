// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/compare_sheet.h"

#include "app/widgets/text.h"
#include "core/judge/program_around.h"
#include "core/sentences/sentences.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include <set>

namespace badger::app
{

/// The painted part.
class CompareSheet::Lines final : public QWidget
{
public:
    /// One cost; a length of a bar each.
    struct Cost {
        QString name;
        QString a, b;
        double inA = 0.0;
        double inB = 0.0;
    };
    struct Content {
        QString a, b;    ///< what the two are called
        QString problem; ///< why nothing can be compared
        std::vector<regions::Difference> differences;
        std::vector<Cost> costs;
        QStringList notes;
    };

    explicit Lines(const Theme &theme) : m_theme(theme)
    {
        setObjectName("compared");
        QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Minimum);
        policy.setHeightForWidth(true);
        setSizePolicy(policy);
    }
    static void addCosts(Content &content, const regions::Comparison &compared,
                         const kit::Assembly &car, const rules::Program &program,
                         const rules::Program &other);
    void show(Content content)
    {
        m_content = std::move(content);
        QStringList said = {m_content.problem};
        for (const auto &d : m_content.differences)
            said << str(d.where) + ": " + str(d.a) + " / " + str(d.b);
        for (const auto &c : m_content.costs)
            said << c.name + ": " + c.a + " / " + c.b;
        said.removeAll(QString());
        setAccessibleDescription((said + m_content.notes).join("; "));
        setMinimumHeight(heightForWidth(width()));
        updateGeometry();
        update();
    }
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override { return qRound(paint(nullptr, width)); }
    QSize sizeHint() const override { return {200, heightForWidth(280)}; }

protected:
    void resizeEvent(QResizeEvent *) override { setMinimumHeight(heightForWidth(width())); }
    void paintEvent(QPaintEvent *) override
    {
        QPainter p(this);
        paint(&p, width());
    }

private:
    /// Draws (or only measures) a text in a width; how high it is.
    qreal text(QPainter *p, const QRectF &room, const QString &words, Type type, bool bold,
               Tone tone) const
    {
        const auto font = m_theme.text(type, bold);
        const auto h = QFontMetricsF(font).boundingRect(room, Qt::TextWordWrap, words).height();
        if (p) {
            p->setFont(font);
            p->setPen(m_theme.color(tone));
            p->drawText(QRectF(room.topLeft(), QSizeF(room.width(), h + 1)), Qt::TextWordWrap,
                        words);
        }
        return h;
    }

    qreal paint(QPainter *p, qreal width) const
    {
        const qreal s = m_theme.scale();
        const auto &c = m_content;
        const qreal gap = 8 * s;
        const qreal half = (width - 2 * gap - 6 * s) / 2;
        const qreal second = gap + half + 6 * s;
        qreal y = 4 * s;
        const auto both = [&](const QString &a, const QString &b, Type type, bool bold) {
            const qreal h = std::max(text(p, {gap, y, half, 1e6}, a, type, bold, Tone::Ink),
                                     text(p, {second, y, half, 1e6}, b, type, bold, Tone::Ink));
            y += h + 4 * s;
        };
        if (!c.problem.isEmpty())
            return text(p, {gap, y, width - 2 * gap, 1e6}, c.problem, Type::Body, false,
                        Tone::Ink2) +
                   8 * s;
        both(c.a, c.b, Type::Body, true);
        if (c.differences.empty() && !c.a.isEmpty())
            y += text(p, {gap, y, width - 2 * gap, 1e6}, tr("They act alike at every reading."),
                      Type::Body, false, Tone::Ink) +
                 6 * s;
        for (const auto &d : c.differences) {
            if (p) {
                p->setPen(QPen(m_theme.color(Tone::Rule), 1));
                p->drawLine(QPointF(gap, y), QPointF(width - gap, y));
            }
            y += 2 * s;
            y += text(p, {gap, y, width - 2 * gap, 1e6}, str(d.where), Type::Small, false,
                      Tone::Ink2);
            both(str(d.a), str(d.b), Type::Body, false);
        }
        for (const auto &note : c.notes)
            y += text(p, {gap, y, width - 2 * gap, 1e6}, note, Type::Small, false, Tone::Ink2) +
                 3 * s;
        for (const auto &cost : c.costs)
            y = paintCost(p, cost, y, gap, second, half);
        return y + 6 * s;
    }

    qreal paintCost(QPainter *p, const Cost &cost, qreal y, qreal first, qreal second,
                    qreal half) const
    {
        const qreal s = m_theme.scale();
        const double most = std::max({cost.inA, cost.inB, 1e-9});
        y += text(p, {first, y, 2 * half, 1e6}, cost.name, Type::Small, false, Tone::Ink2);
        const qreal h = QFontMetricsF(m_theme.text(Type::Body, true)).height() + 2 * s;
        for (const bool other : {false, true}) {
            const QRectF all(other ? second : first, y, half, h);
            if (p == nullptr)
                continue;
            p->fillRect(QRectF(all.left(), all.top(),
                               std::max(0.0, all.width() * (other ? cost.inB : cost.inA) / most),
                               all.height()),
                        m_theme.color(rules::Act::Go));
            p->setFont(m_theme.text(Type::Body, true));
            p->setPen(m_theme.color(Tone::Ink));
            p->drawText(all.adjusted(4 * s, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter,
                        other ? cost.b : cost.a);
        }
        return y + h + 3 * s;
    }

    const Theme &m_theme;
    Content m_content;
};

CompareSheet::CompareSheet(Session &session, const Theme &theme, QWidget *parent)
    : QWidget(parent), m_session(session), m_theme(theme), m_with(new QComboBox),
      m_take(new QPushButton(tr("Take it"))), m_lines(new Lines(theme))
{
    m_with->setObjectName("compareWith");
    m_with->setAccessibleName(tr("Compare with"));
    m_with->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_take->setObjectName("takeIt");
    m_take->setProperty("link", true);
    m_take->setCursor(Qt::PointingHandCursor);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(2, 2, 2, 2);
    layout->setSpacing(theme.space(1));
    auto *head = new QHBoxLayout;
    head->addWidget(m_with, 1);
    head->addWidget(m_take);
    layout->addLayout(head);
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(m_lines);
    layout->addWidget(scroll, 1);
    connect(m_with, &QComboBox::activated, this, &CompareSheet::show);
    connect(m_take, &QPushButton::clicked, this, [this] {
        const auto &other = m_others[static_cast<size_t>(m_with->currentIndex())];
        emit chosen(other.target, other.option);
    });
}

/// The same program with each other word that says how a thing is done, then the other programs.
std::vector<CompareSheet::Other> CompareSheet::others() const
{
    std::vector<Other> all;
    const auto &program = *m_session.program();
    std::set<std::string> seen;
    for (const auto &sentence : sentences::sentences(program))
        for (const auto &token : sentence.tokens) {
            const auto what = token.target.substr(0, token.target.find(':'));
            const bool how = what == "policy" || what == "ties" || what == "beyond" ||
                             what == "compare" || what == "wait" || what == "actions" ||
                             what == "numbers" || what == "median" || what == "motion" ||
                             what == "ends" || what == "pause" || what == "prints";
            if (token.kind != sentences::Token::Kind::Word || !how ||
                !seen.insert(token.target).second)
                continue;
            const auto words = sentences::options(program, token.target);
            const auto now = sentences::standing(program, token.target);
            const auto name = what == "policy" || what == "ties" || what == "beyond" ||
                                      what == "numbers" || what == "median" || what == "motion" ||
                                      what == "wait"
                                  ? (token.target.ends_with(':')
                                         ? tr("each distance: ")
                                         : str(token.target.substr(what.size() + 1)) + ": ")
                              : sentence.number > 0 ? tr("rule %1: ").arg(sentence.number)
                                                    : QString();
            for (size_t i = 0; i < words.size(); ++i) {
                // What it does is another program; how it stands or on which side a limit is, not.
                if (i == now || (what == "motion" && (i > 1 || now > 1)) ||
                    (what == "compare" && i / 2 != now / 2))
                    continue;
                Other other{name + str(words[i]), str(token.target), static_cast<int>(i), program};
                if (sentences::choose(other.program, token.target, i))
                    all.push_back(std::move(other));
            }
        }
    for (const auto &p : m_session.workshop().programs)
        if (p.id != program.id)
            all.push_back({tr("program '%1'").arg(str(p.name)), {}, 0, p});
    return all;
}

void CompareSheet::refresh()
{
    if (m_session.program() == nullptr || m_session.car() == nullptr)
        return;
    const auto was = m_with->currentText();
    m_others = others();
    m_with->clear();
    for (const auto &o : m_others)
        m_with->addItem(o.words);
    const int at = std::max(0, m_with->findText(was));
    m_with->setCurrentIndex(m_others.empty() ? -1 : at);
    show(m_with->currentIndex());
}

/// What each of the two costs, side by side.
void CompareSheet::Lines::addCosts(Content &content, const regions::Comparison &compared,
                                   const kit::Assembly &car, const rules::Program &program,
                                   const rules::Program &other)
{
    const auto ms = [](double seconds) {
        return str(units::quantity(seconds, units::Unit::Millisecond, 1));
    };
    const auto &a = compared.a;
    const auto &b = compared.b;
    const auto time = [&](const QString &name, double inA, double inB) {
        if (inA > 0.0 || inB > 0.0)
            content.costs.push_back({name, ms(inA), ms(inB), inA, inB});
    };
    time(tr("longest pass"), a.longestPass_s, b.longestPass_s);
    time(tr("a look round"), a.lookRound_s, b.lookRound_s);
    time(tr("decides nothing for"), a.blind_s, b.blind_s);
    if (a.blind_m && b.blind_m && (*a.blind_m > 0.0 || *b.blind_m > 0.0))
        content.costs.push_back(
            {tr("driven meanwhile"), cm(*a.blind_m), cm(*b.blind_m), *a.blind_m, *b.blind_m});
    const auto gapA = judge::budgetOf(car, program);
    const auto gapB = judge::budgetOf(car, other);
    if (gapA && gapB)
        content.costs.push_back({tr("left at worst"), cm(gapA->budget.worstGap_m),
                                 cm(gapB->budget.worstGap_m), gapA->budget.worstGap_m,
                                 gapB->budget.worstGap_m});
}

void CompareSheet::show(int index)
{
    Lines::Content content;
    m_take->setVisible(index >= 0 && !m_others[static_cast<size_t>(index)].target.isEmpty());
    if (index < 0) {
        content.problem = tr("There is nothing to compare it with.");
        return m_lines->show(std::move(content));
    }
    const auto &other = m_others[static_cast<size_t>(index)];
    const auto &program = *m_session.program();
    const kit::Assembly car(*m_session.car(), m_session.catalogue());
    const auto around =
        judge::around(car, program, judge::recordsOf(m_session.workshop(), *m_session.car()));
    const auto compared = regions::compare(program, other.program, around);
    if (!compared) {
        content.problem = str(compared.error().text());
        return m_lines->show(std::move(content));
    }
    content.a = tr("as it is");
    content.b = other.words;
    content.differences = compared->differences;
    for (const auto &[names, text] : {std::pair{&compared->onlyA, tr("Only this one reads %1.")},
                                      {&compared->onlyB, tr("Only the other reads %1.")}})
        if (!names->empty()) {
            QStringList all;
            for (const auto &n : *names)
                all << str(n);
            content.notes << text.arg(all.join(", "));
        }
    // What the check says of one of them alone: which side it prefers, what it misses.
    const auto alone = [](const Findings &here, const Findings &there, const QString &words,
                          QStringList &into) {
        for (const auto &f : here.findings)
            if (std::none_of(there.findings.begin(), there.findings.end(),
                             [&](const Finding &g) { return g.code == f.code; }))
                into << words.arg(str(f.what));
    };
    const auto checkedA = regions::check(program, around);
    const auto checkedB = regions::check(other.program, around);
    alone(checkedA, checkedB, tr("Only as it is: %1"), content.notes);
    alone(checkedB, checkedA, tr("Only the other: %1"), content.notes);
    Lines::addCosts(content, *compared, car, program, other.program);
    m_lines->show(std::move(content));
}

} // namespace badger::app
