using System.Text.Json.Nodes;
using Kinetra.Core.Processors;

namespace Kinetra.Core.Editing;

/// <summary>In a file the choices of processors are words, for people; everywhere else they are numbers.</summary>
static class ShowFileWords
{
    /// <summary>Puts words in the place of numbers; a number that is no choice stays.</summary>
    public static void Write(JsonNode? file) => Each(file, (parameter, value) =>
        value is not null && value.AsValue().TryGetValue<double>(out var number) && parameter.Allows(number) ? parameter.Words[(int)number] : value?.DeepClone());

    /// <summary>Puts numbers in the place of words; a word that is no choice stays.</summary>
    public static void Read(JsonNode? file) => Each(file, (parameter, value) =>
        value is JsonValue text && text.TryGetValue<string>(out var word) && parameter.Words.IndexOf(word) is >= 0 and var index ? index : value?.DeepClone());

    private static void Each(JsonNode? node, Func<Parameter, JsonNode?, JsonNode?> change)
    {
        if (node is JsonArray items)
        {
            foreach (var item in items)
            {
                Each(item, change);
            }
        }
        else if (node is JsonObject fields)
        {
            if (fields["values"] is JsonObject values && fields["type"] is JsonValue type && type.TryGetValue<string>(out var key) && ProcessorTypes.Find(key) is { } known)
            {
                foreach (var parameter in known.Parameters.Where(p => p.Scale == ParameterScale.Choice && values.ContainsKey(p.Key)))
                {
                    values[parameter.Key] = change(parameter, values[parameter.Key]);
                }
            }

            foreach (var (_, field) in fields)
            {
                Each(field, change);
            }
        }
    }
}
