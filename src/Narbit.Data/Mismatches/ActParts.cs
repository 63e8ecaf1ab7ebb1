using System.Text.Json.Nodes;

namespace Narbit.Data.Mismatches;

/// <summary>What an act has done, by which it is taken back.</summary>
/// <param name="Way">The way out that knows its parts.</param>
/// <param name="Parts">The parts, each as JSON in the form of its way out.</param>
public sealed record ActParts(string Way, IReadOnlyList<string> Parts)
{
    /// <summary>As it is kept.</summary>
    public string Write() =>
        new JsonObject { ["way"] = Way, ["parts"] = new JsonArray([.. Parts.Select(p => JsonNode.Parse(p))]) }.ToJsonString();

    /// <summary>Reads what is kept.</summary>
    /// <param name="kept">As it is kept.</param>
    /// <param name="renewed">
    /// A part of a way as it was kept before parts were JSON, in the form of today: an act once was its way and its parts between blanks.
    /// </param>
    public static ActParts Read(string kept, Func<string, string, string> renewed)
    {
        if (!kept.StartsWith('{'))
        {
            var words = kept.Split(' ', StringSplitOptions.RemoveEmptyEntries);
            return new ActParts(words[0], [.. words.Skip(1).Select(w => renewed(words[0], w))]);
        }

        var act = JsonNode.Parse(kept)!;
        return new ActParts(act["way"]!.GetValue<string>(), [.. act["parts"]!.AsArray().Select(p => p!.ToJsonString())]);
    }
}
