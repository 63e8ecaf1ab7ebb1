using System.Text.Json.Serialization;

namespace Narbit.Core.Pairing;

/// <summary>How sure pairing is of a record.</summary>
[JsonConverter(typeof(CamelCaseEnum<Verdict>))]
public enum Verdict
{
    /// <summary>Strong evidence that nothing contradicts and no other record shares.</summary>
    Certain,

    /// <summary>The best partner over the whole set, with a distance to the next; a person should look.</summary>
    Likely,

    /// <summary>There are candidates, and no clear one among them.</summary>
    Ambiguous,

    /// <summary>Nothing on the other side resembles it.</summary>
    None,
}

/// <summary>What a piece of evidence is about.</summary>
[JsonConverter(typeof(CamelCaseEnum<EvidenceKind>))]
public enum EvidenceKind
{
    /// <summary>The SKU.</summary>
    Sku,

    /// <summary>The barcode.</summary>
    Barcode,

    /// <summary>The manufacturer's part number.</summary>
    PartNumber,

    /// <summary>The title with its option values.</summary>
    Title,

    /// <summary>A number, size, unit or colour in the title.</summary>
    Measure,

    /// <summary>The brand.</summary>
    Brand,

    /// <summary>The price.</summary>
    Price,

    /// <summary>The sisters under the same parent.</summary>
    Group,

    /// <summary>What was decided for another system.</summary>
    Earlier,

    /// <summary>The email address.</summary>
    Email,

    /// <summary>The phone number.</summary>
    Phone,

    /// <summary>The account number.</summary>
    Account,

    /// <summary>The name.</summary>
    Name,

    /// <summary>The company.</summary>
    Company,

    /// <summary>The postcode.</summary>
    Postcode,

    /// <summary>Another record that fits as well.</summary>
    Rival,
}

/// <summary>Which way a piece of evidence points.</summary>
[JsonConverter(typeof(CamelCaseEnum<EvidenceEffect>))]
public enum EvidenceEffect
{
    /// <summary>Speaks for the pair.</summary>
    For,

    /// <summary>Worth knowing, weighs nothing.</summary>
    Neutral,

    /// <summary>Speaks against the pair.</summary>
    Against,

    /// <summary>Rules the pair out unless something stronger says otherwise.</summary>
    Forbids,
}

/// <summary>One reason, in words a person can check.</summary>
/// <param name="Kind">What it is about.</param>
/// <param name="Effect">Which way it points.</param>
/// <param name="Words">The reason.</param>
public sealed record Evidence(EvidenceKind Kind, EvidenceEffect Effect, string Words);

/// <summary>A record that may be the partner.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Confidence">From 0 to 1.</param>
/// <param name="Evidence">The reasons, weightiest first.</param>
public sealed record Candidate(string Key, double Confidence, IReadOnlyList<Evidence> Evidence);

/// <summary>What pairing found out about a record, or about two that belong together.</summary>
/// <param name="LeftKey">The left record; null for a right record without partner.</param>
/// <param name="RightKey">The right record of a certain or likely pair; null otherwise.</param>
/// <param name="Verdict">The verdict.</param>
/// <param name="Confidence">From 0 to 1; of the best candidate where there is no partner.</param>
/// <param name="Evidence">The reasons, weightiest first.</param>
/// <param name="Candidates">The other records worth a look, best first, at most five.</param>
public sealed record PairFinding(
    string? LeftKey,
    string? RightKey,
    Verdict Verdict,
    double Confidence,
    IReadOnlyList<Evidence> Evidence,
    IReadOnlyList<Candidate> Candidates
);

/// <summary>What the two sides are called in evidence.</summary>
/// <param name="Left">The left system.</param>
/// <param name="Right">The right system.</param>
public sealed record SideNames(string Left, string Right);
