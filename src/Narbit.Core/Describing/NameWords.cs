using System.Globalization;
using System.Text;

namespace Narbit.Core.Describing;

/// <summary>The words in the names that a system gives its fields, without accents, in small letters.</summary>
public static class NameWords
{
    /// <summary>The words of a name: <c>PrixVente_TTC</c> has prix, vente and ttc.</summary>
    public static IReadOnlyList<string> Of(string name)
    {
        var words = new List<string>();
        var word = new StringBuilder();
        var plain = Plain(name);
        for (var i = 0; i < plain.Length; i++)
        {
            var c = plain[i];
            var begins =
                char.IsUpper(c) && word.Length > 0 && (char.IsLower(plain[i - 1]) || (i + 1 < plain.Length && char.IsLower(plain[i + 1])));
            if (!char.IsLetterOrDigit(c) || begins)
                End();
            if (char.IsLetterOrDigit(c))
                word.Append(char.ToLowerInvariant(c));
        }

        End();
        return words;

        void End()
        {
            if (word.Length > 0)
                words.Add(word.ToString());
            word.Clear();
        }
    }

    /// <summary>A name that a person can read: <c>netPrice</c> becomes “Net price”.</summary>
    public static string Label(string name) => Label(Of(name), name);

    /// <summary>The same for its words; where there are none, the name itself.</summary>
    internal static string Label(IReadOnlyList<string> words, string name)
    {
        var text = string.Join(' ', words);
        return text.Length == 0 ? name : char.ToUpperInvariant(text[0]) + text[1..];
    }

    private static string Plain(string name)
    {
        if (Ascii.IsValid(name))
            return name;
        var text = new StringBuilder(name.Length);
        foreach (var c in name.Replace("ß", "ss", StringComparison.Ordinal).Normalize(NormalizationForm.FormD))
            if (CharUnicodeInfo.GetUnicodeCategory(c) != UnicodeCategory.NonSpacingMark)
                text.Append(c);
        return text.ToString();
    }
}
