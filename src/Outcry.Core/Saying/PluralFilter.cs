using System.Globalization;
using Fluid;
using Fluid.Values;

namespace Outcry.Core.Saying;

/// <summary>
/// The filter <c>{{ number | plural: one: "person", other: "people" }}</c>: the form that the language of the message asks
/// for. "#" in a form stands for the number, for languages that have it inside the word (as in ICU message patterns).
/// </summary>
internal static class PluralFilter
{
    public const string Name = "plural";

    private const string VoiceKey = "voice";
    private const string NumbersKey = "numbers";

    public static void Prepare(TemplateContext context, Voice voice, IReadOnlyDictionary<string, decimal> numbers)
    {
        context.AmbientValues[VoiceKey] = voice;
        context.AmbientValues[NumbersKey] = numbers;
    }

    public static ValueTask<FluidValue> ApplyAsync(FluidValue input, FilterArguments forms, TemplateContext context)
    {
        var voice = (Voice)context.AmbientValues[VoiceKey];
        var numbers = (IReadOnlyDictionary<string, decimal>)context.AmbientValues[NumbersKey];
        var said = input.ToStringValue();
        if (!numbers.TryGetValue(said, out var number) && !Read(said, voice.Culture, out number))
            return new ValueTask<FluidValue>(Form(forms, PluralClass.Other, said));
        return new ValueTask<FluidValue>(Form(forms, PluralRule.For(voice.Language, number), said));
    }

    private static bool Read(string said, CultureInfo culture, out decimal number) =>
        decimal.TryParse(said.TrimEnd('+'), NumberStyles.Number, culture, out number);

    private static FluidValue Form(FilterArguments forms, PluralClass plural, string said)
    {
        var name = plural.ToString().ToLowerInvariant();
        var form = forms.HasNamed(name) ? forms[name] : forms[PluralClass.Other.ToString().ToLowerInvariant()];
        return new StringValue(ReplaceFilter.Replace(form.ToStringValue(), "#", said));
    }
}
