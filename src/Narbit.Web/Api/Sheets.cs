using Microsoft.AspNetCore.Http.HttpResults;
using Narbit.Adapters.Files;

namespace Narbit.Web.Api;

/// <summary>Tables that a person takes away: CSV, or XLSX where asked for.</summary>
internal static class Sheets
{
    public static FileContentHttpResult File(
        string? form,
        string name,
        IReadOnlyList<string> columns,
        IEnumerable<IReadOnlyList<string?>> rows
    )
    {
        var workbook = string.Equals(form, "xlsx", StringComparison.OrdinalIgnoreCase);
        using var content = new MemoryStream();
        TableOut.Write(content, workbook ? ".xlsx" : ".csv", columns, rows);
        return TypedResults.File(
            content.ToArray(),
            workbook ? "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet" : "text/csv; charset=utf-8",
            $"{name}.{(workbook ? "xlsx" : "csv")}"
        );
    }
}
