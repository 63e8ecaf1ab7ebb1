using System.Text.RegularExpressions;
using Narbit.Adapters.Rest;

namespace Narbit.Adapters.Describing;

/// <summary>How a list that is asked for in GraphQL goes on, by the names of its query's variables.</summary>
internal static partial class GraphVariables
{
    private const int AskedAtOnce = 50;

    private static readonly string[] Sizes = ["first", "limit", "count", "take", "size", "perPage", "pageSize"];

    private static readonly (RestPaging Paging, string[] Names)[] Pages =
    [
        (RestPaging.Offset, ["skip", "offset", "start", "from"]),
        (RestPaging.Cursor, ["after", "cursor"]),
        (RestPaging.Page, ["page", "pageNumber"]),
    ];

    /// <summary>
    /// The list with its paging, as far as its query says; unchanged where it is no such list, or somebody has said it already.
    /// </summary>
    public static RestList Fill(RestList list)
    {
        if (list.Paging != RestPaging.None || new JsonAt("query").TextIn(list.Body ?? default) is not { } query)
            return list;
        List<string> names = [.. Variable().Matches(query).Select(m => m.Groups[1].Value)];
        if (Sizes.FirstOrDefault(names.Contains) is { } size)
            list = list with { SizeParameter = $"variables.{size}", Size = AskedAtOnce };
        foreach (var (paging, known) in Pages)
            if (known.FirstOrDefault(names.Contains) is { } page)
                return list with { Paging = paging, PageParameter = $"variables.{page}" };
        return list;
    }

    [GeneratedRegex(@"\$(\w+)\s*:")]
    private static partial Regex Variable();
}
