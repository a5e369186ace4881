using Outcry.Core.Saying;

namespace Outcry.Core.Greetings;

/// <summary>Words that a mail or a message begins with: Liquid with the page and the site in it.</summary>
public static class Prefill
{
    private static readonly string[] Known = ["page", "site"];

    /// <summary>What is wrong with them, as a sentence; null when they can be said.</summary>
    public static string? Objection(string text) =>
        MessageTemplate.TryParse(text, out var error) is not { } template ? error
        : template.Tokens.FirstOrDefault(t => !Known.Contains(t)) is { } unknown
            ? $"\"{unknown}\" is not known here. These words can hold {{{{ page }}}} and {{{{ site }}}}."
        : template.Failure;

    /// <summary>The words; empty where they cannot be said.</summary>
    /// <param name="text">As the author wrote them.</param>
    /// <param name="page">Address of the page.</param>
    /// <param name="site">Name of the site.</param>
    public static string Say(string text, string page, string site)
    {
        if (text.Length == 0 || MessageTemplate.TryParse(text, out _) is not { } template)
            return "";
        try
        {
            return string.Concat(
                template.Render(new Dictionary<string, string> { ["page"] = page, ["site"] = site }).Select(s => s.Text)
            );
        }
        catch (WordingException)
        {
            return "";
        }
    }
}
