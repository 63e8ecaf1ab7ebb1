using System.Text.Json.Nodes;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Interactions;

namespace Narbit.Web.Tests;

/// <summary>A person at a screen of 1280 × 800, in headless Chromium.</summary>
public sealed class Browser : IDisposable
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(60);
    private readonly DirectoryInfo _profile = Directory.CreateTempSubdirectory("narbit-browser");
    private readonly ChromeDriver _driver;
    private readonly Uri _address;
    private readonly Lazy<(int Width, int Height)> _frame;

    public Browser(Uri address, bool dark = false)
    {
        _address = address;
        var options = new ChromeOptions { BinaryLocation = Installed("chromium") };
        options.AddArguments(
            "--headless",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--disable-dev-shm-usage",
            "--force-prefers-reduced-motion",
            "--hide-scrollbars",
            "--window-size=1280,800",
            // Pages live for seconds: making their scripts faster takes longer than they then save.
            "--js-flags=--no-opt --no-maglev",
            $"--user-data-dir={_profile.FullName}"
        );
        if (dark)
            options.AddArgument("--blink-settings=preferredColorScheme=0");
        options.SetLoggingPreference(LogType.Browser, LogLevel.All);
        var service = ChromeDriverService.CreateDefaultService(Path.GetDirectoryName(Installed("chromedriver")), "chromedriver");
        service.SuppressInitialDiagnosticInformation = true;
        // A word typed takes long on a machine that is busy with others.
        _driver = new ChromeDriver(service, options, 3 * Patience);
        _frame = new Lazy<(int Width, int Height)>(Frame);
        Resize(1280, 800);
    }

    public string Address => new Uri(_driver.Url).PathAndQuery;

    public void Open(string path)
    {
        _driver
            .Navigate()
            .GoToUrl(Uri.TryCreate(path, UriKind.Absolute, out var whole) && whole.Scheme == "http" ? whole : new Uri(_address, path));
        Until(() => _driver.FindElements(By.CssSelector("h1, main, body")).Count > 0, $"{path} to open");
    }

    /// <summary>Runs a script in every page that is opened from now on, before the page's own.</summary>
    public void Before(string script) =>
        _driver.ExecuteCdpCommand("Page.addScriptToEvaluateOnNewDocument", new Dictionary<string, object?> { ["source"] = script });

    public void Reload() => _driver.Navigate().Refresh();

    /// <summary>Everything a person can read.</summary>
    // The page is asked itself: the driver's own way of reading a text takes many times as long, and a page is read a thousand times.
    public string Text(string selector = "body") =>
        (string)(
            _driver.ExecuteScript(
                "return [...document.querySelectorAll(arguments[0])].map(e => e.innerText.replace(/[\\t\\u00a0 ]+/g, ' "
                    + "').replace(/ ?\\n ?/g, '\\n').trim()).join('\\n')",
                selector
            ) ?? ""
        );

    public int Count(string selector) =>
        Convert.ToInt32(
            _driver.ExecuteScript("return document.querySelectorAll(arguments[0]).length", selector),
            System.Globalization.CultureInfo.InvariantCulture
        );

    public void See(string text, string selector = "body") =>
        Until(() => Text(selector).Contains(text, StringComparison.Ordinal), $"“{text}” in {selector}");

    public void SeeNot(string text, string selector = "body") =>
        Until(() => !Text(selector).Contains(text, StringComparison.Ordinal), $"“{text}” to go from {selector}");

    /// <summary>Clicks the button, link, tab or label with this text.</summary>
    public void Click(string text, string within = "body")
    {
        var words = text.Replace("'", "’", StringComparison.Ordinal);
        Act(
            () =>
                Element(within)
                    .FindElements(
                        By.XPath(
                            $".//*[self::button or self::a or self::label or @role='button'][normalize-space(.)='{words}' or "
                                + $"starts-with(normalize-space(.), '{words} ') or @aria-label='{words}']"
                        )
                    )
                    .FirstOrDefault(e => e is { Displayed: true, Enabled: true }),
            e => e.Click(),
            $"something called “{text}” to click in {within}"
        );
    }

    public void ClickOn(string selector) =>
        Act(() => _driver.FindElements(By.CssSelector(selector)).FirstOrDefault(e => e.Displayed), e => e.Click(), $"{selector} to click");

    /// <summary>Enters a text into the field with this label, in place of what is there, at once as if it were pasted.</summary>
    public void Fill(string label, string text) =>
        Act(
            () => Field(label),
            e =>
            {
                e.Click();
                e.SendKeys(Keys.Control + "a");
                if (text.Length == 0)
                    e.SendKeys(Keys.Delete);
                else
                    Insert(e, text);
            },
            $"a field called “{label}”"
        );

    // Key by key, a page would be drawn as often as the text has letters. A key at its end is pressed, as Enter.
    private void Insert(IWebElement field, string text)
    {
        var keys = text.Length - text.AsSpan().TrimEnd(Keys.Enter).Length;
        _driver.ExecuteCdpCommand("Input.insertText", new Dictionary<string, object?> { ["text"] = text[..^keys] });
        if (keys > 0)
            field.SendKeys(text[^keys..]);
    }

    /// <summary>Gives files to a field that takes some.</summary>
    public void Give(string selector, params string[] files) =>
        Act(
            () => _driver.FindElements(By.CssSelector(selector)).FirstOrDefault(),
            e => e.SendKeys(string.Join('\n', files)),
            $"{selector} to take files"
        );

    /// <summary>Chooses an option of the list that the field with this label opens.</summary>
    public void Choose(string label, string option)
    {
        Until(() => Field(label) is not null, $"a field called “{label}”");
        // Where nothing can be typed, a space would open and close the list again.
        if (Field(label)?.GetAttribute("readonly") is null)
            Fill(label, option);
        else
            Act(() => Field(label), e => e.Click(), $"a field called “{label}”");
        Until(
            () => _driver.FindElements(By.XPath($"//*[@role='option'][normalize-space(.)='{option}']")).Any(e => e.Displayed),
            $"the option “{option}” of {label}"
        );
        Act(
            () => _driver.FindElements(By.XPath($"//*[@role='option'][normalize-space(.)='{option}']")).FirstOrDefault(e => e.Displayed),
            e => e.Click(),
            $"the option “{option}”"
        );
    }

    /// <summary>Does something in the window that was opened last, closes it, and comes back.</summary>
    public void InNewWindow(Action act)
    {
        var here = _driver.CurrentWindowHandle;
        Until(() => _driver.WindowHandles.Count > 1, "a new window");
        _driver.SwitchTo().Window(_driver.WindowHandles.Last());
        act();
        _driver.Close();
        _driver.SwitchTo().Window(here);
    }

    public void Press(string keys) => new Actions(_driver).SendKeys(keys).Perform();

    public void Chord(string modifier, string key) => new Actions(_driver).KeyDown(modifier).SendKeys(key).KeyUp(modifier).Perform();

    /// <summary>Moves the focus by Tab until it is on the button, link or field with this text at its start, then presses Enter.</summary>
    public void TabTo(string text, bool exact = false)
    {
        Until(
            () =>
                _driver
                    .FindElements(By.XPath($"//*[self::button or self::a][starts-with(normalize-space(.), '{text}')]"))
                    .Any(e => e is { Displayed: true, Enabled: true }),
            $"“{text}” to be there"
        );
        for (var i = 0; i < 120; i++)
        {
            Press(Keys.Tab);
            if (
                _driver.ExecuteScript(
                    "const [text, exact] = arguments, at = document.activeElement, said = at.innerText?.replace(/\\s+/g, ' "
                        + "').trim() ?? ''; return (exact ? said === text : said.startsWith(text)) || "
                        + "at.getAttribute('aria-label') === text",
                    text,
                    exact
                )
                is not true
            )
                continue;
            Press(Keys.Enter);
            return;
        }

        throw new TimeoutException($"“{text}” is not reached by Tab");
    }

    /// <summary>Waits until the cursor is in a field of the dialog in front.</summary>
    public void Asked() =>
        Until(
            () => _driver.ExecuteScript("return document.activeElement?.matches('.mantine-Modal-content input') === true") is true,
            "the cursor in the dialog"
        );

    public string Value(string label) => Field(label)?.GetAttribute("value") ?? "";

    public void Until(Func<bool> condition, string what)
    {
        var deadline = DateTime.UtcNow + Patience;
        while (!(Try(() => (bool?)condition()) ?? false))
        {
            if (DateTime.UtcNow > deadline)
                throw new TimeoutException(
                    $"Waited for {what}; at {Address} there is:\n{Text("main, .mantine-Modal-content, .mantine-Notification-root")}"
                );
            Thread.Sleep(50);
        }
    }

    public void Shot(string file) => _driver.GetScreenshot().SaveAsFile(file);

    /// <summary>What axe-core finds against WCAG 2.2 AA on the page as it is.</summary>
    /// <param name="rule">One rule only, or null for all.</param>
    public IReadOnlyList<string> Axe(string? rule = null)
    {
        var axe = File.ReadAllText(Path.Combine(RunningNarbit.Root, "web", "node_modules", "axe-core", "axe.min.js"));
        if (_driver.ExecuteScript("return window.axe !== undefined") is not true)
            _driver.ExecuteScript(axe);
        _driver.Manage().Timeouts().AsynchronousJavaScript = TimeSpan.FromSeconds(30);
        var result = (string?)
            _driver.ExecuteAsyncScript(
                """
                const [rule, done] = arguments;
                axe.run(document, rule ? { resultTypes: ['violations'], runOnly: { type: 'rule', values: [rule] } }
                  : { resultTypes: ['violations'], runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'] })
                  .then(r => done(JSON.stringify(r.violations
                    .map(v => v.id + ': ' + v.nodes.map(n => n.target.join(' ') + ' ' + n.failureSummary).join(' | ')))))
                  .catch(e => done(JSON.stringify(['axe failed: ' + e])));
                """,
                rule!
            );
        return [.. JsonNode.Parse(result ?? "[]")!.AsArray().Select(v => v!.GetValue<string>())];
    }

    /// <summary>Whether the page itself scrolls sideways.</summary>
    public bool ScrollsSideways() =>
        _driver.ExecuteScript(
            "return document.documentElement.scrollWidth > document.documentElement.clientWidth || "
                + "document.querySelector('main').scrollWidth > document.querySelector('main').clientWidth"
        )
            is true;

    /// <summary>Sets the size of the page itself; the window is larger by its frame.</summary>
    public void Resize(int width, int height) =>
        _driver.Manage().Window.Size = new System.Drawing.Size(width + _frame.Value.Width, height + _frame.Value.Height);

    private (int Width, int Height) Frame()
    {
        int Inner(string side) =>
            Convert.ToInt32(_driver.ExecuteScript($"return window.inner{side}"), System.Globalization.CultureInfo.InvariantCulture);
        var outer = _driver.Manage().Window.Size;
        return (outer.Width - Inner("Width"), outer.Height - Inner("Height"));
    }

    /// <summary>Errors in the browser's console, but for refusals the test asked for.</summary>
    public IReadOnlyList<string> Errors() =>
        [
            .. _driver
                .Manage()
                .Logs.GetLog(LogType.Browser)
                .Where(l =>
                    l.Level == LogLevel.Severe && !l.Message.Contains("the server responded with a status of 4", StringComparison.Ordinal)
                )
                .Select(l => l.Message),
        ];

    public object? Script(string script) => _driver.ExecuteScript(script);

    public void Dispose()
    {
        _driver.Quit();
        _driver.Dispose();
        try
        {
            _profile.Delete(recursive: true);
        }
        catch (IOException)
        { /* Chromium may still be letting go of its profile. */
        }
    }

    private IWebElement Element(string selector) => _driver.FindElement(By.CssSelector(selector));

    private IWebElement? Field(string label)
    {
        var labelled = _driver.FindElements(By.XPath($"//input[@aria-label='{label}'] | //textarea[@aria-label='{label}']"));
        if (labelled.FirstOrDefault(e => e.Displayed) is { } direct)
            return direct;
        var named = _driver
            .FindElements(By.XPath($"//label[normalize-space(.)='{label}' or starts-with(normalize-space(.), '{label}')]"))
            .FirstOrDefault(e => e.Displayed);
        return named?.GetAttribute("for") is { Length: > 0 } id
            ? _driver.FindElement(By.Id(id))
            : named?.FindElement(By.CssSelector("input"));
    }

    private void Act(Func<IWebElement?> find, Action<IWebElement> act, string what) =>
        Until(
            () =>
            {
                if (find() is not { } element)
                    return false;
                act(element);
                return true;
            },
            what
        );

    // An element may go stale between finding and using it while the page is being drawn; that is no answer yet.
    private static T? Try<T>(Func<T?> look)
    {
        try
        {
            return look();
        }
        catch (Exception error)
            when (error
                    is StaleElementReferenceException
                        or NoSuchElementException
                        or ElementClickInterceptedException
                        or ElementNotInteractableException
            )
        {
            return default;
        }
    }

    private static string Installed(string program) =>
        new[] { $"/usr/bin/{program}", $"/usr/local/bin/{program}" }.FirstOrDefault(File.Exists)
        ?? throw new InvalidOperationException(
            $"{program} is missing. ./narbit test installs Debian's chromium and chromium-driver where it may."
        );
}
