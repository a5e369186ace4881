using Fluid;
using Fluid.Values;

namespace Outcry.Core.Saying;

/// <summary>The filter <c>{{ from_place | replace: "from", "to" }}</c>, which comes to no more than a message can hold.</summary>
internal static class ReplaceFilter
{
    public const string Name = "replace";

    /// <exception cref="WordingException">There is nothing to look for, or too much comes of it.</exception>
    public static ValueTask<FluidValue> ApplyAsync(FluidValue input, FilterArguments words, TemplateContext context)
    {
        var (text, from, to) = (input.ToStringValue(), words.At(0).ToStringValue(), words.At(1).ToStringValue());
        if (from.Length == 0)
            throw new WordingException($"\"{Name}\" needs words to look for.");
        return new ValueTask<FluidValue>(new StringValue(Replace(text, from, to)));
    }

    /// <summary>Replaces words by others; a few of them one within another could fill all memory, so each result has an end.</summary>
    public static string Replace(string text, string from, string to)
    {
        var places = 0;
        for (
            var at = text.IndexOf(from, StringComparison.Ordinal);
            at >= 0;
            at = text.IndexOf(from, at + from.Length, StringComparison.Ordinal)
        )
            places++;
        if (text.Length + (long)places * (to.Length - from.Length) > MessageTemplate.MaxRendered)
            throw new WordingException(
                $"Filled in, the message is longer than {MessageTemplate.MaxRendered} characters."
            );
        return text.Replace(from, to, StringComparison.Ordinal);
    }
}
