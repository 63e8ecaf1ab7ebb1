using System.Globalization;
using System.Text.Encodings.Web;

namespace Narbit.Sandbox.Pages;

/// <summary>The plain pages of the stand-ins: one frame, and text that is always encoded.</summary>
public static class Html
{
    public static string Text(object? value) => HtmlEncoder.Default.Encode(Convert.ToString(value, CultureInfo.InvariantCulture) ?? "");

    public static IResult Page(string title, string theme, string body) =>
        Results.Content(
            $$"""
            <!doctype html>
            <html lang="en">
            <head>
              <meta charset="utf-8">
              <meta name="viewport" content="width=device-width, initial-scale=1">
              <title>{{Text(title)}}</title>
              <link rel="icon" href="data:,">
              <style>
                :root { --ground: #f4f5f2; --ink: #1f2a2a; --rule: #cfd5d1; --accent: #2e5a4e; }
                .shop { --ground: #fbf7f2; --ink: #33261f; --rule: #e4d8cc; --accent: #7a3e63; }
                .office { --ground: #eef1f4; --ink: #1d2733; --rule: #cad3dc; --accent: #2f5480; }
                body { margin: 0; background: var(--ground); color: var(--ink); font: 16px/1.5 system-ui, sans-serif; }
                header { padding: 14px 28px; border-bottom: 3px solid var(--accent); background: #fff;
                  display: flex; gap: 24px; align-items: baseline; }
                header a { color: var(--accent); font-weight: 700; text-decoration: none; font-size: 20px; }
                main { padding: 24px 28px; max-width: 1080px; }
                table { border-collapse: collapse; width: 100%; background: #fff; }
                th, td { text-align: left; padding: 8px 12px; border-bottom: 1px solid var(--rule); }
                .num { text-align: right; font-variant-numeric: tabular-nums; }
                input { font: inherit; padding: 6px 9px; border: 1px solid #7d8885; border-radius: 4px; }
                input.short { width: 7em; text-align: right; }
                button { font: inherit; padding: 6px 16px; border: 0; border-radius: 4px; background: var(--accent);
                  color: #fff; cursor: pointer; }
                a { color: var(--accent); }
                .grid { display: grid; grid-template-columns: repeat(auto-fill, minmax(220px, 1fr)); gap: 16px; margin-top: 20px; }
                .card { background: #fff; border: 1px solid var(--rule); border-radius: 6px; padding: 16px;
                  display: block; color: inherit; text-decoration: none; }
                .price { font-size: 24px; font-weight: 700; font-variant-numeric: tabular-nums; }
                .note { background: #fff; border-left: 4px solid var(--accent); padding: 10px 14px; margin: 0 0 18px; }
                small { color: #55605d; }
              </style>
            </head>
            <body class="{{theme}}">{{body}}</body>
            </html>
            """,
            "text/html; charset=utf-8"
        );

    public static string Note(string? message) =>
        string.IsNullOrEmpty(message) ? "" : $"""<p class="note" role="status">{Text(message)}</p>""";
}
