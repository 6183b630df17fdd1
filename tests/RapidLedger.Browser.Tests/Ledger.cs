using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Interactions;
using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>A browser window over a server, with the words in which the journeys are told.</summary>
public sealed class Ledger : IDisposable
{
    // Only what fails waits so long: a machine that is busy with other things may need it.
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(90);

    // Between two looks: each is work for the browser, too, which the page then waits for.
    private static readonly TimeSpan Look = TimeSpan.FromMilliseconds(80);

    private readonly RunningServer server;

    public Ledger(RunningServer server, string page = "day", string at = "/promotions")
    {
        this.server = server;
        // The first visit is only for the storage of this address, which another server may have had before.
        Driver.Navigate().GoToUrl(new Uri(server.Address, "/mark.svg"));
        Script($"localStorage.clear(); localStorage.setItem('rapid-ledger.page', '{page}')");
        Open(at);
    }

    public ChromeDriver Driver { get; } = Browsers.Take();

    /// <summary>How many keys and clicks were pressed so far, what was typed apart.</summary>
    public int Presses { get; private set; }

    /// <summary>Counts a press that is made outside of the page: in the dialog that chooses a file.</summary>
    public void CountPress() => Presses++;

    public string Due => Text("[data-testid=due]");

    public string Edition => Text("[data-testid=edition]");

    public string ReadBack => Text("[data-testid=read-back] p");

    public void Open(string path)
    {
        Driver.Navigate().GoToUrl(new Uri(server.Address, path));
        Find(
            "[data-testid=due], [data-testid=takings], [data-testid=stacking], [data-testid=orders], [data-testid=store], [data-testid=shoppers], [data-testid=opening], [data-testid=goods]"
        );
    }

    /// <summary>Shows the page so wide, also narrower than headless Chromium takes a window; null: as the window is.</summary>
    public void Widen(int? width)
    {
        if (width is { } wide)
            Driver.ExecuteCdpCommand(
                "Emulation.setDeviceMetricsOverride",
                new()
                {
                    ["width"] = wide,
                    ["height"] = 800,
                    ["deviceScaleFactor"] = 1,
                    ["mobile"] = false,
                }
            );
        else
            Driver.ExecuteCdpCommand("Emulation.clearDeviceMetricsOverride", []);
    }

    /// <summary>Shows the page as it is printed.</summary>
    public void OnPaper(bool isPrinted) =>
        Driver.ExecuteCdpCommand("Emulation.setEmulatedMedia", new() { ["media"] = isPrinted ? "print" : "" });

    /// <summary>The element, once it is there.</summary>
    public IWebElement Find(string selector)
    {
        IWebElement? found = null;
        Until(() => (found = Driver.FindElements(By(selector)).FirstOrDefault()) is not null, () => $"there is no {selector}");
        return found!;
    }

    public string Text(string selector) => Find(selector).Text;

    public int Count(string selector) => Driver.FindElements(By(selector)).Count;

    public void Click(string selector)
    {
        Presses++;
        Until(() => TryClick(selector), () => $"{selector} cannot be clicked");
    }

    private bool TryClick(string selector)
    {
        try
        {
            var found = Find(selector);
            // Somebody waits until it can be pressed.
            if (found.GetAttribute("aria-disabled") == "true")
                return false;
            found.Click();
            return true;
        }
        catch (Exception error)
            when (error is StaleElementReferenceException or ElementClickInterceptedException or ElementNotInteractableException)
        {
            return false;
        }
    }

    public void ClickWord(string word) => Click($"//*[self::button or self::a][normalize-space(.)='{word}']");

    /// <summary>Chooses a word of a part that offers a few.</summary>
    public void Choose(string label, string word)
    {
        Click($"button[aria-label^='{label}']");
        Click($"//*[@role='option' or @role='menuitem'][normalize-space(.)='{word}' or normalize-space(text())='{word}']");
    }

    /// <summary>Types over what stands in a part.</summary>
    public void Type(string label, string text)
    {
        var field = Find($"input[aria-label='{label}']");
        Presses += 2;
        field.Click();
        field.SendKeys(Keys.Control + "a");
        field.SendKeys(text.Length == 0 ? Keys.Delete : text);
    }

    /// <summary>Presses keys wherever the focus is.</summary>
    public void Press(params string[] keys)
    {
        // What is typed is no press; keys that write nothing are (WebDriver, section 17.4.2: they stand in a private use area).
        Presses += keys.Count(key => key is [>= '\uE000' and <= '\uF8FF'] or "/" or "n");
        foreach (var key in keys)
            new Actions(Driver).SendKeys(key).Perform();
    }

    /// <summary>Presses a key while others are held.</summary>
    public void Chord(string key, params string[] held)
    {
        Presses++;
        var actions = new Actions(Driver);
        foreach (var one in held)
            actions.KeyDown(one);
        actions.SendKeys(key);
        foreach (var one in held)
            actions.KeyUp(one);
        actions.Perform();
    }

    /// <summary>Goes on by Tab until the focus is on something of that name.</summary>
    public void TabTo(string label)
    {
        for (var i = 0; i < 120; i++)
        {
            if (
                Script("const e = document.activeElement; return e.getAttribute('aria-label') || e.textContent || ''") is string at
                && at.StartsWith(label, StringComparison.Ordinal)
            )
                return;
            Press(Keys.Tab);
        }

        Assert.Fail($"Tab does not reach '{label}'.");
    }

    public object? Script(string code, params object[] arguments) => Driver.ExecuteScript(code, arguments);

    /// <summary>The amount of a promotion's entry on the tape, or null if it has none.</summary>
    public string? Entry(string promotion) =>
        Driver.FindElements(By($"[data-testid=entry][data-promotion='{promotion}'] [data-testid=entry-amount]")).FirstOrDefault()?.Text;

    public string Id => Driver.Url.Split('/')[^1];

    /// <summary>Waits until something holds.</summary>
    public void Until(Func<bool> holds, Func<string>? otherwise = null)
    {
        var end = DateTime.UtcNow + Patience;
        while (true)
        {
            try
            {
                if (holds())
                    return;
            }
            catch (StaleElementReferenceException)
            {
                // The page was being redrawn; look again.
            }

            if (DateTime.UtcNow > end)
                Assert.Fail($"{otherwise?.Invoke() ?? "It did not come about."}\n{Seen()}");
            Thread.Sleep(Look);
        }
    }

    /// <summary>What somebody would read who looked at the page now.</summary>
    private string Seen()
    {
        var page = Script(
            "return document.body.innerText + '\\n' + [...document.querySelectorAll('input')].map(i => i.ariaLabel + ': ' + i.value).join('\\n')"
        );
        return $"{Driver.Url}\n{page}";
    }

    public void UntilEqual(string? expected, Func<string?> actual)
    {
        string? last = null;
        Until(() => (last = actual()) == expected, () => $"expected {expected ?? "nothing"}, is {last ?? "nothing"}");
    }

    public void Dispose()
    {
        try
        {
            // No page error, ever. That the server refused something stands there too, and is what some journeys are about.
            var errors = Driver
                .Manage()
                .Logs.GetLog(LogType.Browser)
                .Where(entry =>
                    entry.Level == LogLevel.Severe && !entry.Message.Contains("Failed to load resource", StringComparison.Ordinal)
                );
            Assert.True(!errors.Any(), string.Join("\n", errors.Select(entry => entry.Message)));
        }
        finally
        {
            Browsers.GiveBack(Driver);
        }
    }

    private static By By(string selector) =>
        selector.StartsWith("//", StringComparison.Ordinal) ? OpenQA.Selenium.By.XPath(selector) : OpenQA.Selenium.By.CssSelector(selector);
}
