// SPDX-License-Identifier: GPL-3.0-or-later
// The page that a program is written down on. Private to the sentences: reading_sentences.cpp has
// what it hears and how it begins, sentences.cpp the rules and states.
#pragma once

#include "core/sentences/sentences.h"

namespace badger::sentences
{

/// A value as it stands in a sentence.
Say valueText(const rules::Value &value);

/// Writes one program down.
class Page
{
public:
    explicit Page(const rules::Program &program) : m_program(program), m_shared(sharedEcho(program))
    {
    }

    std::vector<Sentence> take();

private:
    void begin(Sentence::Kind kind, std::string about)
    {
        m_all.push_back({kind, {}, std::move(about), {}, 0, -1});
    }
    void text(Say words)
    {
        m_all.back().tokens.push_back({Token::Kind::Text, std::move(words), {}, false});
    }
    void name(const std::string &what, std::string target)
    {
        m_all.back().tokens.push_back({Token::Kind::Name, Say(what), std::move(target), false});
    }
    void value(const std::string &valueName)
    {
        const auto *v = m_program.value(valueName);
        m_all.back().tokens.push_back(
            {Token::Kind::Value, v ? valueText(*v) : say("…"), "value:" + valueName, !v || !v->si});
    }
    void word(Say words, std::string target, bool unset = false)
    {
        m_all.back().tokens.push_back(
            {Token::Kind::Word, std::move(words), std::move(target), unset});
    }
    void chosen(std::string target)
    {
        const auto all = options(m_program, target);
        const auto at = standing(m_program, target);
        word(at < all.size() ? all[at] : say("choose"), std::move(target), at >= all.size());
    }
    void typed(Say words, std::string target, bool unset)
    {
        m_all.back().tokens.push_back(
            {Token::Kind::Value, unset ? say("…") : std::move(words), std::move(target), unset});
    }
    /// How an echo becomes a number; of no name that of all of them.
    void echoNumber(const rules::Reading &r, const std::string &of);
    void reading(const rules::Reading &r);
    void echo(const rules::Reading &r);
    void other(const rules::Reading &r);

    /// Numbers that cannot be meant, where the program sets them apart.
    void bounds(const rules::Reading &r);

    void swivel(const rules::Reading &r);

    void start();

    /// Where a state does something on its way in that takes time.
    void doings();

    void pause();

    void prints();

    void condition(const rules::Condition &c, const std::string &place);

    void rules(const std::vector<rules::Rule> &all, const std::string &state);

    /// A state that does something on its way in, and that a rule can lead to from itself.
    static bool mayBeginAnew(const rules::State &to, const std::string &state);

    void motion(const rules::Motion &m);

    void state(const rules::State &s, int index);

    void action(const rules::Action &a);

    void wait(const rules::Wait &w, const std::string &state);

    const rules::Program &m_program;
    const rules::Reading *m_shared; ///< said once for all echoes
    std::vector<Sentence> m_all;
};

} // namespace badger::sentences
