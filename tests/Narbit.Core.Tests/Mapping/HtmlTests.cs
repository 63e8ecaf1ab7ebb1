using CsCheck;
using Narbit.Core.Comparing;
using Narbit.Core.Records;

namespace Narbit.Core.Tests.Mapping;

/// <summary>
/// Simple HTML is read without a parser. A comment in front says nothing, and makes the parser read the same text: both ways have to
/// agree.
/// </summary>
public sealed class HtmlTests
{
    private const string Comment = "<!-- -->";

    // The named characters of HTML 4.
    private const string Names =
        "quot amp lt gt apos nbsp iexcl cent pound curren yen brvbar sect uml copy ordf laquo not shy reg macr deg plusmn sup2 "
        + "sup3 acute micro para middot cedil sup1 ordm raquo frac14 frac12 frac34 iquest Agrave Aacute Acirc Atilde Auml "
        + "Aring AElig Ccedil "
        + "Egrave Eacute Ecirc Euml Igrave Iacute Icirc Iuml ETH Ntilde Ograve Oacute Ocirc Otilde Ouml times Oslash Ugrave "
        + "Uacute Ucirc Uuml Yacute THORN szlig agrave aacute acirc atilde auml aring aelig ccedil egrave eacute ecirc euml "
        + "igrave iacute icirc "
        + "iuml eth ntilde ograve oacute ocirc otilde ouml divide oslash ugrave uacute ucirc uuml yacute thorn yuml OElig oelig "
        + "Scaron scaron Yuml fnof circ tilde Alpha Beta Gamma Delta Epsilon Zeta Eta Theta Iota Kappa Lambda Mu Nu Xi "
        + "Omicron Pi Rho Sigma "
        + "Tau Upsilon Phi Chi Psi Omega alpha beta gamma delta epsilon zeta eta theta iota kappa lambda mu nu xi omicron pi "
        + "rho sigmaf sigma tau upsilon phi chi psi omega thetasym upsih piv ensp emsp thinsp zwnj zwj lrm rlm ndash mdash "
        + "lsquo rsquo sbquo ldquo "
        + "rdquo bdquo dagger Dagger bull hellip permil prime Prime lsaquo rsaquo oline frasl euro image weierp real trade "
        + "alefsym larr uarr rarr darr harr crarr lArr uArr rArr dArr hArr forall part exist empty nabla isin notin ni prod "
        + "sum minus lowast radic "
        + "prop infin ang and or cap cup int there4 sim cong asymp ne equiv le ge sub sup nsub sube supe oplus otimes perp sdot "
        + "lceil rceil lfloor rfloor lang rang loz spades clubs hearts diams";

    private static readonly string[] Tags =
    [
        "p",
        "ul",
        "ol",
        "li",
        "h2",
        "h3",
        "h4",
        "blockquote",
        "br",
        "strong",
        "em",
        "b",
        "i",
        "u",
        "sub",
        "sup",
        "div",
        "a",
        "table",
        "td",
        "script",
        "P",
        "h1",
    ];

    private static readonly string[] Pieces =
    [
        "Celadon",
        " glaze ",
        "250 ml",
        " ",
        "  \n ",
        "\t",
        "\u00A0",
        "ü",
        "🏺",
        "1 < 2",
        "a > b",
        "&",
        "&amp;",
        "&rsaquo;",
        "&nbsp;",
        "&lang;",
        "&#8250;",
        "&AMP;",
        "&amp",
        "&lt;b&gt;",
        "\r\n",
        "\f",
        "\u3000",
        "–",
    ];

    private static readonly Gen<string> Words = Any(Pieces);

    // Elements closed in their order, nested at will.
    private static Gen<string> Nested(int depth) =>
        depth == 0
            ? Words
            : Gen.Select(
                    Gen.OneOf(Any(["ul", "li", "p", "b", "blockquote"]), Any(Tags)),
                    Nested(depth - 1).Array[0, 3],
                    Words,
                    Gen.Int[0, 9]
                )
                .Select(
                    (tag, inner, words, how) =>
                        how switch
                        {
                            0 => words,
                            1 => $"<{tag} title=\"x\">{string.Concat(inner)}</{tag}>",
                            2 => "<br>",
                            _ => $"<{tag}>{string.Concat(inner)}</{tag}>",
                        }
                );

    private static readonly Gen<string> Torn = Gen.OneOf(
            Words,
            Gen.Select(Any(Tags), Any(["<{0}>", "</{0}>", "<{0}/>", "<{0} class=x>", "<{0}"]))
                .Select((tag, form) => form.Replace("{0}", tag, StringComparison.Ordinal))
        )
        .Array[0, 12]
        .Select(string.Concat);

    private static Gen<string> Any(string[] of) => Gen.Int[0, of.Length - 1].Select(i => of[i]);

    [Fact]
    public void SimpleHtmlIsReadAsTheParserReadsIt()
    {
        Gen.OneOf(Nested(4).Array[1, 3].Select(string.Concat), Torn).Sample(ReadAlike, iter: 5_000);
        foreach (var name in Names.Split(' '))
            ReadAlike($"<p>Celadon &{name}; glaze</p>");
    }

    [Fact]
    public void WhatIsSimpleStaysAndTheRestIsPutInOrder()
    {
        Sanitised("<p>Celadon &rsaquo; <strong>glaze</strong></p><ul><li>food safe</li></ul>")
            .ShouldBe("<p>Celadon › <strong>glaze</strong></p><ul><li>food safe</li></ul>");
        Sanitised("<p>one<p>two").ShouldBe("<p>one</p><p>two</p>");
        Sanitised("<p>a<script>alert(1)</script></p>").ShouldBe("<p>a</p>");
        Sanitised("<b>a<i>b</b>c</i>").ShouldBe("<b>a<i>b</i></b><i>c</i>");
        Plain("<h2>Celadon</h2><ul><li>food  safe</li><li>250&nbsp;ml</li></ul>").ShouldBe("Celadon\nfood safe\n250 ml");
        FieldComparison.Same(FieldType.Html, "<p>a  b</p> ", "<p>a b</p>").ShouldBeTrue();
        FieldComparison.Same(FieldType.Html, "<p>a b</p>", "<p>a<b> b</b></p>").ShouldBeFalse();
    }

    private static void ReadAlike(string html)
    {
        Sanitised(html).ShouldBe(Sanitised(Comment + html), html);
        Plain(html).ShouldBe(Plain(Comment + html), html);
        FieldComparison.Same(FieldType.Html, html, Comment + html).ShouldBeTrue(html);
    }

    private static string? Sanitised(string html) => Maps.Run(FieldType.Html, FieldType.Html, html, Maps.Step("sanitise")).Value;

    private static string? Plain(string html) => Maps.Run(FieldType.Html, FieldType.Text, html, Maps.Step("stripHtml")).Value;
}
