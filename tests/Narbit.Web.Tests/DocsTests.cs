using System.Text.RegularExpressions;

namespace Narbit.Web.Tests;

/// <summary>What README and docs/ name is there: files, commands, types and tests.</summary>
public sealed class DocsTests
{
    private static readonly string Root = RunningNarbit.Root;

    public static TheoryData<string> Docs =>
        [
            "README.md",
            .. Directory
                .GetFiles(Path.Combine(Root, "docs"), "*.md", SearchOption.AllDirectories)
                .Select(d => Path.GetRelativePath(Root, d)),
        ];

    [Theory]
    [MemberData(nameof(Docs))]
    public void Every_file_that_is_linked_to_is_there(string doc)
    {
        foreach (var link in Named(Read(doc), @"\]\(([^)#\s]+)"))
        {
            if (link.Contains("://", StringComparison.Ordinal))
                continue;
            var path = Path.Combine(Root, Path.GetDirectoryName(doc)!, link);
            (File.Exists(path) || Directory.Exists(path)).ShouldBeTrue($"{doc} links to {link}");
        }
    }

    [Theory]
    [MemberData(nameof(Docs))]
    public void Every_path_that_is_named_from_the_root_is_there(string doc)
    {
        foreach (var named in Named(Read(doc), "`((?:src|web|tests|docs|bench|demo)/[^`*?{\\s]+)`"))
            (File.Exists(Path.Combine(Root, named)) || Directory.Exists(Path.Combine(Root, named))).ShouldBeTrue($"{doc} names {named}");
    }

    [Theory]
    [MemberData(nameof(Docs))]
    public void Every_command_is_one_of_narbit(string doc)
    {
        var (script, benches) = (Read("narbit"), Read("bench/run.sh"));
        var commands = Named(script, "^  ([a-z| ]+)\\) ").SelectMany(c => c.Split('|', StringSplitOptions.TrimEntries)).ToHashSet();
        foreach (var command in Named(Read(doc), @"\./narbit ([a-z]+)"))
            commands.ShouldContain(command, doc);
        foreach (var bench in Named(Read(doc), @"\./narbit bench ([a-z]+)"))
            benches.ShouldContain($"bench_{bench}() {{", Case.Sensitive, doc);
    }

    // A decision says what was there when it was taken.
    [Fact]
    public void Every_type_that_is_named_is_there()
    {
        var code = new[] { "src", "tests", "bench", "web/src" }.SelectMany(Sources).Select(File.ReadAllText);
        var words = Named(string.Concat(code), @"\b([A-Z]\w+)\b").ToHashSet();
        var docs = Docs.Select(d => d.Data).Where(d => !d.StartsWith("docs/decisions", StringComparison.Ordinal));
        foreach (var doc in docs)
        foreach (var name in Named(Read(doc), "`([A-Z][a-z]+(?:[A-Z][a-z]+)+)`"))
            words.ShouldContain(name, doc);
    }

    [Fact]
    public async Task What_is_said_of_security_names_tests_that_are_there()
    {
        var said = await File.ReadAllTextAsync(Path.Combine(RunningNarbit.Root, "docs", "security.md"));
        var sources = Directory.GetFiles(Path.Combine(RunningNarbit.Root, "tests"), "*.cs", SearchOption.AllDirectories);
        var tests = string.Concat(await Task.WhenAll(sources.Select(s => File.ReadAllTextAsync(s))));
        var named = Regex
            .Matches(said, "`(?:([A-Za-z]+Tests)[.]?)?([A-Za-z]+(?:_\\w+)+|[A-Z][A-Za-z]{30,})?`")
            .Where(m => m.Length > 2)
            .ToList();
        named.Count.ShouldBeGreaterThan(60);
        foreach (var one in named)
        {
            if (one.Groups[1] is { Success: true, Value: var test })
                tests.ShouldContain($"class {test}");
            if (one.Groups[2] is { Success: true, Value: var method })
                tests.ShouldContain($" {method}(");
        }
    }

    private static IEnumerable<string> Sources(string folder) =>
        Directory
            .GetFiles(Path.Combine(Root, folder), "*", SearchOption.AllDirectories)
            .Where(f => Path.GetExtension(f) is ".cs" or ".csproj" or ".ts" or ".tsx");

    private static string Read(string path) => File.ReadAllText(Path.Combine(Root, path));

    private static IEnumerable<string> Named(string text, string pattern) =>
        Regex.Matches(text, pattern, RegexOptions.Multiline).Select(m => m.Groups[1].Value).Distinct();
}
