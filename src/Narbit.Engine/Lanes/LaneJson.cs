using System.Text.Json;
using System.Text.Json.Serialization.Metadata;
using Narbit.Core;

namespace Narbit.Engine.Lanes;

/// <summary>The JSON of lane documents: that of rules, with the kinds of work told apart by <c>kind</c>.</summary>
public static class LaneJson
{
    /// <summary>The name of what tells documents apart.</summary>
    public const string Discriminator = "kind";

    /// <summary>The name of what tells ways of looking at a trial apart.</summary>
    public const string LooksAt = "looksAt";

    /// <summary>Knows every kind of document; for whoever puts them into other JSON.</summary>
    public static IJsonTypeInfoResolver Resolver { get; } = new DefaultJsonTypeInfoResolver { Modifiers = { TellApart } };

    /// <summary>The options of every lane document.</summary>
    public static JsonSerializerOptions Options { get; } =
        new(RuleJson.Options) { TypeInfoResolver = Resolver, AllowOutOfOrderMetadataProperties = true };

    /// <summary>
    /// The options for files that people read: indented, and without nulls, but for those that say something: where a value is there
    /// unless it is taken away, null takes it away.
    /// </summary>
    public static JsonSerializerOptions Legible { get; } =
        new(Options)
        {
            WriteIndented = true,
            TypeInfoResolver = new DefaultJsonTypeInfoResolver { Modifiers = { TellApart, OmitNulls } },
        };

    /// <summary>A document as JSON.</summary>
    public static string Write(LaneDocument document) => JsonSerializer.Serialize(document, Options);

    /// <summary>Reads a document.</summary>
    public static Outcome<LaneDocument> Read(string json)
    {
        try
        {
            if (JsonText.HasNothingInAList(json))
                return new Reason("rule.unreadable", "The rule has nothing (null) in a list where a value should be.");
            return JsonSerializer.Deserialize<LaneDocument>(json, Options) is { } document
                ? document
                : new Reason("rule.unreadable", "The rule is empty.");
        }
        catch (JsonException error)
        {
            return new Reason("rule.unreadable", $"The rule could not be read: {RuleJson.Explain(error)}.");
        }
        catch (NotSupportedException)
        {
            return new Reason("rule.unreadable", $"The rule does not say with “{Discriminator}” what it is.");
        }
    }

    private static void OmitNulls(JsonTypeInfo type)
    {
        if (type.Kind != JsonTypeInfoKind.Object)
            return;
        var blank = type.CreateObject?.Invoke();
        foreach (var property in type.Properties.Where(p => p is { ShouldSerialize: null, Get: not null }))
            property.ShouldSerialize = (_, value) => value is not null || !IsNullAnyway(property, blank);
    }

    // What a missing member becomes: what a blank object has, or what the constructor is given.
    private static bool IsNullAnyway(JsonPropertyInfo property, object? blank) =>
        blank is not null ? property.Get!(blank) is null : property.AssociatedParameter is { DefaultValue: null };

    private static void TellApart(JsonTypeInfo type)
    {
        if (type.Type == typeof(LaneDocument))
            type.PolymorphismOptions = By(Discriminator, LaneWorks.All.Select(w => new JsonDerivedType(w.Computing.DocumentType, w.Kind)));
        else if (type.Type == typeof(TrialResult))
            type.PolymorphismOptions = By(LooksAt, LaneWorks.All.Select(w => w.Computing.Trial).DistinctBy(t => t.DerivedType));
    }

    private static JsonPolymorphismOptions By(string name, IEnumerable<JsonDerivedType> types)
    {
        var options = new JsonPolymorphismOptions { TypeDiscriminatorPropertyName = name };
        foreach (var type in types)
            options.DerivedTypes.Add(type);
        return options;
    }
}
