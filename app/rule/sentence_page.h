// SPDX-License-Identifier: GPL-3.0-or-later
// A program as a page of sentences, every choice a word or number to type over.
#pragma once

#include "app/theme/theme.h"
#include "core/base/finding.h"
#include "core/regions/mend.h"
#include "core/sentences/rewrite.h"

#include <QLineEdit>
#include <QWidget>

namespace badger::app
{

/// Flows the tokens of a program's sentences over its width. A value is typed over in place, a word
/// is picked from those that can stand there; what is wrong stands under the sentence in which it
/// happens. Arrows go from choice to choice, Enter opens one; Insert, Delete and Alt with an arrow
/// add, take out and move the sentence they stand in, and its menu has what else can be done there.
class SentencePage final : public QWidget
{
    Q_OBJECT
public:
    explicit SentencePage(const Theme &theme, QWidget *parent = nullptr);
    /// `lit`: a target whose sentence is marked.
    void show(const rules::Program &program, const std::vector<Finding> &findings,
              const QString &lit);
    /// Ways out of the findings, by their places in the list that was shown: a link each.
    void offer(std::map<int, std::vector<regions::Mend>> mends);
    /// Where the link of a way out stands.
    QRect areaOfMend(int finding, int way) const;
    /// Opens the choice of that target: the field of a value, the words of a word.
    void open(const QString &target);
    /// Where a token stands; empty where there is none of that target.
    QRect areaOf(const QString &target) const;
    /// The keys stand at the choice of that target from now on.
    void goTo(const QString &target);
    /// Where the link stands that adds a rule to a state (none: those that hold always), "+ a
    /// state" or "+ a reading".
    QRect areaOfAdd(const QString &what) const;

    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;
    QSize sizeHint() const override;

signals:
    void typed(const QString &target, const QString &text);
    void rewritten(int sentence, int what); ///< sentences::Rewrite
    void readingWanted(const QPoint &below);
    void chosen(const QString &target, int option);
    void mendTaken(int finding, int way);
    void picked(const QString &target); ///< "reading:ahead", "state:drives"

protected:
    void paintEvent(QPaintEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    /// The second press of a double click would take what has moved under it.
    void mouseDoubleClickEvent(QMouseEvent *) override {}
    void keyPressEvent(QKeyEvent *event) override;
    void contextMenuEvent(QContextMenuEvent *event) override;
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    struct Placed {
        QRectF area;
        size_t sentence = 0;
        size_t token = 0;
        QString words; ///< of a text one word, so that it can go over the end of a line
    };
    struct Line {
        QRectF area; ///< of a sentence, or of a finding under it
        size_t sentence = 0;
        int finding = -1;
    };
    struct Link {
        QRectF area;
        int finding = 0;
        int way = 0;
    };
    /// A link that adds a sentence.
    struct Add {
        QRectF area;
        QString words;
        QString what;      ///< "rule:drives", "state", "reading"
        int sentence = -1; ///< that it is added to
        sentences::Rewrite by = sentences::Rewrite::AddRule;
    };
    struct Layout {
        std::vector<Link> links;
        std::vector<Add> adds;
        std::vector<Placed> tokens;
        std::vector<Line> lines;
        qreal height = 0.0;
    };
    qreal addFinding(Layout &all, size_t i, int f, QPointF corner, qreal width) const;
    Layout layOut(qreal width) const;
    void place();
    void updateChanged(const Layout &before);
    QFont fontOf(const sentences::Sentence &sentence, const sentences::Token &token) const;
    const sentences::Token &tokenOf(const Placed &placed) const;
    std::vector<int> findingsOf(const sentences::Sentence &sentence) const;
    bool isChoice(size_t placed) const;
    void addLinks(Layout &layout, size_t sentence, qreal &y, qreal width) const;
    int sentenceAt(const QPointF &position) const;
    int currentSentence() const;
    void wish(int sentence, sentences::Rewrite what);
    void openMenu(int sentence, const QPoint &at);
    void openField(const QString &target, const QString &text, const QRectF &area);
    void openAt(size_t placed);
    void finishField(bool take);
    void paintLine(QPainter &p, const Line &line) const;
    void paintToken(QPainter &p, size_t index) const;

    const Theme &m_theme;
    rules::Program m_program;
    std::vector<sentences::Sentence> m_sentences;
    std::vector<Finding> m_findings;
    std::map<int, std::vector<regions::Mend>> m_mends;
    QString m_lit;
    Layout m_layout;
    mutable std::map<int, int> m_heights; ///< by width, of what is shown
    int m_current = -1;                   ///< the token the keys are at
    QLineEdit *m_field;
    QString m_editing;
};

} // namespace badger::app
