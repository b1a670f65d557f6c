using System.Collections;
using System.Collections.Concurrent;
using System.Reflection;
using System.Text.Json;
using Zenrik.Core;

namespace Zenrik.Web.Api;

/// <summary>
/// Refuses a body in which something is null that must not be: a value left out, or an element of a list. So no endpoint
/// meets one, whatever is sent.
/// </summary>
internal sealed class WholeBodies : IEndpointFilter
{
    private static readonly ConcurrentDictionary<Type, (PropertyInfo Property, bool MayBeNull)[]> Known = new();

    public ValueTask<object?> InvokeAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        var gap = context.Arguments.Where(IsBody).Select(a => Gap(a!, "")).FirstOrDefault(g => g is not null);
        return gap is null
            ? next(context)
            : ValueTask.FromResult<object?>(
                TypedResults.Problem(
                    $"\"{gap.TrimStart('.')}\" is missing or null. Give it, or leave the whole entry out.",
                    statusCode: StatusCodes.Status422UnprocessableEntity
                )
            );
    }

    /// <summary>Records of this program; services are given as arguments too, and are none.</summary>
    private static bool IsBody(object? argument) =>
        argument?.GetType() is { } type
        && (type.Namespace == typeof(WholeBodies).Namespace || type.Assembly == typeof(Refusal).Assembly);

    /// <summary>Where the first gap is: "lines[2].number"; null when there is none.</summary>
    private static string? Gap(object value, string at)
    {
        switch (value)
        {
            case string or JsonElement:
                return null;
            case IDictionary entries:
                foreach (DictionaryEntry entry in entries)
                {
                    if (In(entry.Value, $"{at}.{entry.Key}", mayBeNull: false) is { } gap)
                    {
                        return gap;
                    }
                }

                return null;
            case IEnumerable list:
                var n = 0;
                foreach (var element in list)
                {
                    if (In(element, $"{at}[{n++}]", mayBeNull: false) is { } gap)
                    {
                        return gap;
                    }
                }

                return null;
            default:
                return IsBody(value)
                    ? Known
                        .GetOrAdd(value.GetType(), Properties)
                        .Select(p =>
                            In(
                                p.Property.GetValue(value),
                                $"{at}.{JsonNamingPolicy.CamelCase.ConvertName(p.Property.Name)}",
                                p.MayBeNull
                            )
                        )
                        .FirstOrDefault(g => g is not null)
                    : null;
        }

        static string? In(object? value, string at, bool mayBeNull) =>
            value is not null ? Gap(value, at)
            : mayBeNull ? null
            : at;
    }

    private static (PropertyInfo, bool)[] Properties(Type type)
    {
        var nullability = new NullabilityInfoContext();
        return
        [
            .. type.GetProperties(BindingFlags.Public | BindingFlags.Instance)
                .Where(p => p.CanWrite && p.GetIndexParameters().Length == 0)
                .Select(p => (p, nullability.Create(p).ReadState != NullabilityState.NotNull)),
        ];
    }
}
