using System.Text;
using Fluid;
using Fluid.Ast;
using Fluid.Values;

namespace Outcry.Core.Saying;

/// <summary>
/// The values of a message, kept apart from its text while that is read as Markdown: in their place stands one private-use
/// character each, which Markdown takes for a letter.
/// </summary>
/// <remarks>
/// So a value can hold any mark, space or line break and is never read as markup; and a token that came to nothing is still
/// there to be seen, with the word or the stop that stood there for it alone.
/// </remarks>
internal sealed class Slots
{
    private const string Key = "slots";
    private const string Filter = "outcry_slot";
    private const char First = '\uE000';
    private const char Last = '\uF8FF';

    private readonly List<string> _values = [];

    /// <summary>Characters of all values together.</summary>
    public int Length { get; private set; }

    /// <summary>Teaches the template engine to keep values apart.</summary>
    public static void AddTo(TemplateOptions options) =>
        options.Filters.AddFilter(
            Filter,
            (input, _, context) => new ValueTask<FluidValue>(((Slots)context.AmbientValues[Key]).Take(input))
        );

    /// <summary>A template whose outputs are kept apart.</summary>
    public static IFluidTemplate Keep(IFluidTemplate template) => new Marker().VisitTemplate(template);

    /// <summary>Begins a rendering.</summary>
    public static Slots Begin(TemplateContext context)
    {
        var slots = new Slots();
        context.AmbientValues[Key] = slots;
        return slots;
    }

    /// <summary>A text without the characters that stand for values.</summary>
    public static string Without(string text) => text.Any(IsSlot) ? string.Concat(text.Where(c => !IsSlot(c))) : text;

    /// <summary>Whether a character stands for a value.</summary>
    public static bool IsSlot(char c) => c is >= First and <= Last;

    /// <summary>Whether a character stands for a value that came to nothing.</summary>
    public bool IsEmpty(char c) => IsSlot(c) && _values[c - First].Length == 0;

    /// <summary>Puts the values back.</summary>
    public string Fill(string text) => Fill(text, static (value, _) => value);

    /// <summary>Puts the values back into an address: as they are at its start, else written so that they stay one part of it.</summary>
    public string? FillAddress(string? address) =>
        address is null
            ? null
            : Fill(address, static (value, place) => place == 0 ? Plain(value) : Uri.EscapeDataString(Plain(value)));

    private string Fill(string text, Func<string, int, string> write)
    {
        if (!text.Any(IsSlot))
            return text;
        var filled = new StringBuilder();
        for (var i = 0; i < text.Length; i++)
            filled.Append(IsSlot(text[i]) ? write(_values[text[i] - First], i) : text[i].ToString());
        return filled.ToString();
    }

    // Marks of direction belong to what is read, not to where it leads.
    private static string Plain(string value) => string.Concat(value.Where(c => c is not ('\u2068' or '\u2069')));

    private StringValue Take(FluidValue input)
    {
        var value = input.ToStringValue();
        Length += value.Length;
        _values.Add(string.IsNullOrWhiteSpace(value) ? "" : OneLine(value));
        return new StringValue(((char)(First + _values.Count - 1)).ToString(), encode: false);
    }

    private static string OneLine(string value) =>
        value.AsSpan().IndexOfAny("\t\n\r") < 0
            ? value
            : value.Replace('\t', ' ').Replace('\n', ' ').Replace('\r', ' ');

    private sealed class Marker : AstRewriter
    {
        protected override Statement VisitOutputStatement(OutputStatement outputStatement) =>
            new OutputStatement(new FilterExpression(outputStatement.Expression, Filter, []));
    }
}
