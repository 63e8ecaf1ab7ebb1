using System.Globalization;
using System.Text.RegularExpressions;
using Narbit.Core.Pairing;
using Narbit.Core.Records;

namespace Narbit.Core.Describing;

/// <summary>What the values of a field look like: the shares of them, from 0 to 1, that could be this or that.</summary>
internal sealed partial class ValueReading
{
    private static readonly string[] LocalDates = ["dd.MM.yyyy", "d.M.yyyy", "dd/MM/yyyy", "MM/dd/yyyy", "dd-MM-yyyy", "yyyy/MM/dd"];

    private static readonly string[] LocalInstants =
    [
        "dd.MM.yyyy HH:mm",
        "dd.MM.yyyy HH:mm:ss",
        "dd/MM/yyyy HH:mm",
        "dd/MM/yyyy HH:mm:ss",
        "yyyy/MM/dd HH:mm:ss",
    ];

    private static readonly string[] TruthWords = ["true", "false", "yes", "no", "y", "n", "0", "1"];

    private readonly List<SampleValue> _values;

    public ValueReading(SampleColumn column)
    {
        _values = [.. column.Values.Where(v => v is { Text.Length: > 0 }).Select(v => v!.Value)];
        Records = column.Values.Count;
        Numbers = [.. _values.Select(v => Number(v, '.')).OfType<decimal>()];
        CommaNumbers = [.. _values.Select(v => Number(v, ',')).OfType<decimal>()];
        Distinct = _values.Select(v => v.Text).Distinct(StringComparer.Ordinal).Count();
    }

    public int Records { get; }

    /// <summary>How many records have a value.</summary>
    public int Count => _values.Count;

    public int Distinct { get; }

    /// <summary>The values that are numbers, written with a point.</summary>
    public List<decimal> Numbers { get; }

    /// <summary>The values that are numbers, written with a comma.</summary>
    public List<decimal> CommaNumbers { get; }

    public bool AreLists => Count > 0 && _values.TrueForAll(v => v.Form == SampleForm.List);

    public bool AreTruths => Count > 0 && _values.TrueForAll(v => v.Form == SampleForm.Truth);

    public bool AreNumbers => Count > 0 && _values.TrueForAll(v => v.Form == SampleForm.Number);

    /// <summary>Whether all values are one of few words for yes and no, in text.</summary>
    public bool AreTruthWords =>
        Count > 1 && Distinct <= 2 && _values.TrueForAll(v => TruthWords.Contains(v.Text, StringComparer.OrdinalIgnoreCase));

    public double Gtins => Share(v => v.Text.Length >= 8 && Gtin.Of(v.Text) is not null);

    public double Unique => Count == 0 ? 0 : (double)Distinct / Count;

    public double Filled => Records == 0 ? 0 : (double)Count / Records;

    public double Mails => Share(v => Mail().IsMatch(v.Text));

    public double Html => Share(v => Tag().IsMatch(v.Text));

    public double Images => Share(v => Picture().IsMatch(v.Text));

    public double Words => Share(v => v.Form == SampleForm.Text && v.Text.Any(char.IsLetter));

    public double Sentences => Share(v => v.Text.Contains(' ', StringComparison.Ordinal) && v.Text.Any(char.IsLetter));

    public double Codes => Share(v => v.Text.Length <= 40 && !v.Text.Contains(' ', StringComparison.Ordinal));

    public double LeadingZeros => Share(v => v.Text.Length > 1 && v.Text[0] == '0' && v.Text.All(char.IsAsciiDigit));

    /// <summary>The form in which all values are instants or dates; null: they are none.</summary>
    public (FieldType Type, string? Format)? Moment()
    {
        if (Count == 0 || !_values.TrueForAll(v => v.Form == SampleForm.Text))
            return null;
        if (_values.TrueForAll(v => IsoDate().IsMatch(v.Text)))
            return (FieldType.Date, null);
        if (_values.TrueForAll(v => IsoInstant().IsMatch(v.Text)))
            return (FieldType.Instant, null);
        if (FormOf(LocalDates) is { } date)
            return (FieldType.Date, date);
        return FormOf(LocalInstants) is { } instant ? (FieldType.Instant, instant) : null;
    }

    /// <summary>Up to five different values, shortened.</summary>
    public IReadOnlyList<string> Some() =>
        [.. _values.Select(v => v.Text.Length <= 60 ? v.Text : v.Text[..59] + "…").Distinct(StringComparer.Ordinal).Take(5)];

    private double Share(Func<SampleValue, bool> fits) => Count == 0 ? 0 : (double)_values.Count(fits) / Count;

    private string? FormOf(string[] forms) =>
        Array.Find(
            forms,
            f => _values.TrueForAll(v => DateTime.TryParseExact(v.Text, f, CultureInfo.InvariantCulture, DateTimeStyles.None, out _))
        );

    private static decimal? Number(SampleValue value, char mark)
    {
        if (value.Form is SampleForm.Truth or SampleForm.List)
            return null;
        if (mark == ',' && value.Form == SampleForm.Number)
            return null;
        const NumberStyles Plain = NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint | NumberStyles.AllowExponent;
        return decimal.TryParse(Core.Numbers.WithPoint(value.Text, mark), Plain, CultureInfo.InvariantCulture, out var number)
            ? number
            : null;
    }

    [GeneratedRegex(@"^[^@\s]+@[^@\s]+\.[^@\s]+$")]
    private static partial Regex Mail();

    [GeneratedRegex(@"</?[a-zA-Z][^>]{0,200}>")]
    private static partial Regex Tag();

    [GeneratedRegex(@"\.(jpe?g|png|webp|gif|svg)(\?.*)?$", RegexOptions.IgnoreCase)]
    private static partial Regex Picture();

    [GeneratedRegex(@"^\d{4}-\d\d-\d\d$")]
    private static partial Regex IsoDate();

    [GeneratedRegex(@"^\d{4}-\d\d-\d\d[T ]\d\d:\d\d(:\d\d(\.\d+)?)?(Z|[+-]\d\d:?\d\d)?$")]
    private static partial Regex IsoInstant();
}
