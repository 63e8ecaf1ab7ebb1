using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Core.Tests.Mapping;

/// <summary>Each step through the door that a lane uses: a chain from a field of the source to a field of the target.</summary>
public sealed class StepTests
{
    [Theory]
    [InlineData("trim", "", "  jar ", "jar")]
    [InlineData("collapse", "", " two   words\n here ", "two words here")]
    [InlineData("case", "to=upper", "straße", "STRASSE|STRAßE")]
    [InlineData("case", "to=title", "CELADON glaze", "Celadon Glaze")]
    [InlineData("case", "to=sentence", "CELADON Glaze", "Celadon glaze")]
    [InlineData("limit", "length=10", "Celadon glaze", "Celadon")]
    [InlineData("limit", "length=10;at=letter", "Celadon glaze", "Celadon gl")]
    [InlineData("limit", "length=10;ellipsis=yes", "Celadon glaze", "Celadon…")]
    [InlineData("limit", "length=13", "Celadon glaze", "Celadon glaze")]
    [InlineData("limit", "length=3", "Celadon", "Cel")]
    [InlineData("replace", "find=, ;by= – ", "glaze, brush-on", "glaze – brush-on")]
    [InlineData("pattern", "find=(\\d+) ml;by=$1 millilitres", "250 ml", "250 millilitres")]
    [InlineData("extract", "find=(\\d+) kg", "bag of 25 kg", "25")]
    [InlineData("extract", "find=\\d+", "no number", null)]
    [InlineData("surround", "before=LM.;after=/1", "GLZ", "LM.GLZ/1")]
    [InlineData("toHtml", "", "one & two\nthree\n\nfour", "<p>one &amp; two<br>three</p><p>four</p>")]
    [InlineData(
        "stripHtml",
        "",
        "<p>One <b>two</b></p><script>alert(1)</script><ul><li>three</li><li>four</li></ul>",
        "One two\nthree\nfour"
    )]
    [InlineData("number", "locale=de-DE", "1.234,50", "1234.5")]
    [InlineData("number", "locale=en-IE", "1,234.50", "1234.5")]
    [InlineData("number", "locale=fr-FR", "1 234,5", "1234.5")]
    [InlineData("check", "kind=gtin", "9528840100010|", "!")]
    [InlineData("check", "kind=currency", "eur", "EUR")]
    [InlineData("check", "kind=country", "ie", "IE")]
    [InlineData("truth", "yes=J;no=N", "j", "true")]
    [InlineData("branch", "levels=1", "Glazes › Brush-on", "Glazes")]
    [InlineData("leaf", "", "Glazes › Brush-on", "Brush-on")]
    [InlineData("date", "format=dd.MM.yyyy", "24.11.2026", "2026-11-24")]
    [InlineData("instant", "format=yyyy-MM-dd HH:mm;zone=Europe/Dublin", "2026-07-01 09:30", "2026-07-01T08:30:00Z")]
    [InlineData(
        "images",
        "base=https://pictures.lanternmoor.example",
        "pictures/1.jpg",
        "https://pictures.lanternmoor.example/pictures/1.jpg"
    )]
    [InlineData("default", "value=none", null, "none")]
    [InlineData("when", "is=contains;value=glaze;then=Glazes;else=", "Celadon Glaze", "Glazes")]
    [InlineData("when", "is=contains;value=glaze;then=Glazes;else=", "Clay", null)]
    [InlineData("when", "is=contains;value=glaze;then={} (food safe)", "Celadon glaze", "Celadon glaze (food safe)")]
    public void TextStep(string step, string with, string? value, string? expected)
    {
        var parameters =
            with.Length == 0
                ? []
                : with.Split(';')
                    .Select(p => p.Split('=', 2))
                    .Aggregate(
                        new List<(string, string)>(),
                        (list, p) =>
                        {
                            if (p.Length == 2)
                                list.Add((p[0], p[1]));
                            else
                                list[^1] = (list[^1].Item1, list[^1].Item2 + ";" + p[0]);
                            return list;
                        }
                    );
        var target = step switch
        {
            "toHtml" => FieldType.Html,
            "number" => FieldType.Decimal,
            "truth" => FieldType.Boolean,
            "date" => FieldType.Date,
            "instant" => FieldType.Instant,
            _ => FieldType.Text,
        };
        var source = step is "stripHtml" ? FieldType.Html : FieldType.Text;
        var result = Maps.Run(source, target, value, Maps.Step(step, [.. parameters]));
        if (expected == "!")
            result.Failure.ShouldNotBeNull();
        else
        {
            result.Failure.ShouldBeNull();
            if (expected is null)
                result.Value.ShouldBeNull();
            else
                expected.Split('|').ShouldContain(result.Value!);
        }
    }

    [Theory]
    [InlineData("scale", "by=1.2", "10", "12")]
    [InlineData("add", "amount=-0.5", "10", "9.5")]
    [InlineData("round", "decimals=1", "2.25", "2.3")]
    [InlineData("round", "decimals=1;halves=even", "2.25", "2.2")]
    [InlineData("round", "decimals=0;halves=always up", "2.01", "3")]
    [InlineData("unit", "from=kg;to=g", "0.38", "380")]
    [InlineData("unit", "from=lb;to=kg", "1", "0.45359237")]
    [InlineData("unit", "from=oz;to=g", "1", "28.349523125")]
    [InlineData("unit", "from=in;to=cm", "10", "25.4")]
    [InlineData("unit", "from=l;to=ml", "1.5", "1500")]
    [InlineData("expression", "formula=[value] * 2 + Round([value] / 3, 2)", "10", "23.33")]
    [InlineData("default", "value=0", null, "0")]
    public void NumberStep(string step, string with, string? value, string expected) =>
        Maps.Run(
                FieldType.Decimal,
                FieldType.Decimal,
                value,
                Maps.Step(step, [.. with.Split(';').Select(p => p.Split('=', 2)).Select(p => (p[0], p[1]))])
            )
            .ShouldBe(new ChainResult(expected));

    [Theory]
    [InlineData("1,5", "en-IE")]
    [InlineData("1.2345,5", "de-DE")]
    [InlineData("ten", "en-IE")]
    public void NumberThatIsNotWrittenSoFails(string text, string locale) =>
        Maps.Run(FieldType.Text, FieldType.Decimal, text, Maps.Step("number", ("locale", locale)))
            .Failure!.Words.ShouldContain($"“{text}” is no number as written in {locale}");

    [Fact]
    public void NumberIsWrittenAsText() =>
        Maps.Run(FieldType.Decimal, FieldType.Text, "1234.5", Maps.Step("numberText", ("locale", "de-DE"))).Value.ShouldBe("1.234,50");

    [Fact]
    public void AMissingValueStaysMissingInEveryStepButThoseThatSaySo()
    {
        foreach (var kind in StepCatalogue.Kinds)
        {
            kind.Missing.ShouldNotBeNullOrWhiteSpace(kind.Do);
            kind.Label.ShouldNotBeNullOrWhiteSpace(kind.Do);
        }

        Maps.Run(
                FieldType.Text,
                FieldType.Text,
                null,
                Maps.Step("trim"),
                Maps.Step("limit", ("length", "3")),
                Maps.Step("surround", ("before", "x"))
            )
            .ShouldBe(default);
        Maps.Run(FieldType.Decimal, FieldType.Decimal, null, Maps.Step("expression", ("formula", "[value] + 1"))).Value.ShouldBe("1");
    }

    [Fact]
    public void APatternThatBacktracksForEverIsStoppedAndThenNoLongerTried()
    {
        var chain = Maps.Chain(FieldType.Text, FieldType.Text, Maps.Step("pattern", ("find", "^(a+)+$"), ("by", "x")));
        var slow = Maps.Record(new string('a', 60) + "!");
        for (var i = 0; i < 5; i++)
            chain.Run(slow).Failure!.Words.ShouldContain("took longer than 50 ms on this value");
        chain.Run(slow).Failure!.Words.ShouldContain("is not tried on more");
    }

    [Theory]
    [InlineData("[value] / [zero]", "divides by zero with value = 10, zero = 0")]
    [InlineData("Pow([value], 1000)", "cannot be computed with value = 10")]
    [InlineData("[value] ** [value] ** [value] ** [value]", "cannot be computed with value = 10")]
    [InlineData("[value] > 1", "gives true, which is no number")]
    public void AnExpressionThatCannotBeComputedSaysSo(string formula, string words) =>
        Maps.Run(FieldType.Decimal, FieldType.Decimal, "10", Maps.Step("expression", ("formula", formula)))
            .Failure!.Words.ShouldContain(words);

    [Theory]
    [InlineData("[nosuch] + 1", "there is no such field")]
    [InlineData("[value] +", "cannot be read")]
    [InlineData("Frobnicate([value])", "function that does not exist")]
    public void AnExpressionThatCannotBeRightIsRefusedWhileEditing(string formula, string words) =>
        Maps.Faults(FieldType.Decimal, FieldType.Decimal, Maps.Step("expression", ("formula", formula))).ShouldContain(words);

    [Fact]
    public void HtmlIsSanitised()
    {
        const string Html =
            """<p onclick="steal()">Fine <script>alert(1)</script><a href="javascript:alert(2)">link</a> """
            + """<a href="https://x.example">ok</a><iframe src="https://evil.example"></iframe></p>""";
        var clean = Maps.Run(FieldType.Html, FieldType.Html, Html, Maps.Step("sanitise")).Value!;
        foreach (var bad in new[] { "script", "onclick", "javascript", "iframe", "alert" })
            clean.ShouldNotContain(bad);
        clean.ShouldContain("""<a href="https://x.example">ok</a>""");
        Maps.Run(FieldType.Html, FieldType.Html, Html, Maps.Step("sanitise", ("tags", "p"))).Value.ShouldBe("<p>Fine  </p>");
    }

    [Fact]
    public void LongHtmlWithScriptsIsCleanedAndTenMegabytesOfItAreRefusedInWords()
    {
        static string Html(int n) => string.Concat(Enumerable.Repeat("<p>Grogged clay</p><script>while(true){}</script>", n));
        var clean = Maps.Run(FieldType.Html, FieldType.Html, Html(10_000), Maps.Step("sanitise"));
        clean.Failure.ShouldBeNull();
        clean.Value!.ShouldNotContain("script");
        Maps.Run(FieldType.Html, FieldType.Text, Html(10_000), Maps.Step("stripHtml"), Maps.Step("limit", ("length", "24")))
            .Value!.ShouldStartWith("Grogged clay");
        Maps.Run(FieldType.Html, FieldType.Html, Html(220_000), Maps.Step("sanitise"))
            .Failure!.Words.ShouldContain("10,780,000 characters; at most 1,000,000 are read");
    }

    [Theory]
    [InlineData("<div>", 100_000)]
    [InlineData("<b><i>", 50_000)]
    [InlineData("<ul><li>", 300)]
    [InlineData("<div></b>", 50_000)]
    [InlineData("<x-card></br>", 50_000)]
    public void HtmlThatIsTooDeepIsRefusedInWords(string opening, int times) =>
        Maps.Run(FieldType.Html, FieldType.Html, string.Concat(Enumerable.Repeat(opening, times)), Maps.Step("sanitise"))
            .Failure!.Words.ShouldContain("nested more than 200 levels");

    [Theory]
    [InlineData("https://pictures.lanternmoor.example/a.jpg", null)]
    [InlineData("https://pictures.lanternmoor.example/show?id=4", null)]
    [InlineData("https://pictures.lanternmoor.example/list.pdf", "is no image: it ends in .pdf")]
    [InlineData("http://127.0.0.1/a.jpg", "local network")]
    [InlineData("http://192.168.4.4/a.jpg", "local network")]
    [InlineData("http://172.20.0.9/a.jpg", "local network")]
    [InlineData("http://[::1]/a.jpg", "local network")]
    [InlineData("http://[fd00::7]/a.jpg", "local network")]
    [InlineData("http://[::ffff:10.0.0.1]/a.jpg", "local network")]
    [InlineData("http://0x7f000001/a.jpg", "local network")]
    [InlineData("http://files.local/a.jpg", "local network")]
    [InlineData("http://nas/a.jpg", "local network")]
    [InlineData("file:///etc/passwd", "no web address")]
    [InlineData("pictures/1.jpg", "no web address")]
    public void ImageAddressesAreLookedAtAndNeverVisited(string address, string? fault)
    {
        var failure = Maps.Run(FieldType.Text, FieldType.Image, address).Failure;
        if (fault is null)
            failure.ShouldBeNull();
        else
            failure!.Words.ShouldContain(fault);
    }

    [Fact]
    public void ListsAreMadeAndTakenApart()
    {
        Maps.Run(FieldType.Text, FieldType.List, "a, b,,a", Maps.Step("split", ("at", ",")), Maps.Step("distinct"))
            .Value.ShouldBe("""["a","b"]""");
        Maps.Run(FieldType.Text, FieldType.Text, "a, b, c", Maps.Step("split", ("at", ",")), Maps.Step("pick", ("which", "-1")))
            .Value.ShouldBe("c");
        Maps.Run(FieldType.Text, FieldType.Text, "a", Maps.Step("split", ("at", ",")), Maps.Step("pick", ("which", "3")))
            .Value.ShouldBeNull();
        Maps.Run(FieldType.List, FieldType.Text, """["a","b"]""", Maps.Step("take", ("count", "1")), Maps.Step("join", ("with", "+")))
            .Value.ShouldBe("a");
        Maps.Run(FieldType.List, FieldType.Decimal, """["4","1.5"]""", Maps.Step("sum")).Value.ShouldBe("5.5");
    }

    [Fact]
    public void RelatedRecordsBecomeThoseOfTheTargetAndNeverTheRecordItself()
    {
        var chain = Maps.Chain(FieldType.List, FieldType.List, Maps.Step("paired"));
        // 10 is the record itself, 12 is not there yet, and 11 points back: none of it goes round in circles.
        var record = Maps.Record("""["10","11","12","11"]""") with
        {
            Paired = key => key == "11" ? "E-11" : null,
        };
        chain.Run(record).Value.ShouldBe("""["E-11"]""");
        var trace = new List<TraceStep>();
        chain.Trace(record, trace);
        trace[^1].Why.ShouldContain("not at the target yet, or are the record itself");
    }
}
