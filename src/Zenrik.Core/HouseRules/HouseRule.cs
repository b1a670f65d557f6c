namespace Zenrik.Core.HouseRules;

/// <summary>One school of practice.</summary>
/// <param name="Id">Stored and sent; lower case words joined by hyphens.</param>
/// <param name="Name">As practitioners say it.</param>
/// <param name="Reason">Why some do it so. Common practice, no published source.</param>
public sealed record School(string Id, string Name, string Reason);

/// <summary>A question on which practitioners differ and a workshop decides.</summary>
public abstract class HouseRule
{
    private protected HouseRule(string id, string question, string touches, IReadOnlyList<School> schools) =>
        (Id, Question, Touches, Schools) = (id, question, touches, schools);

    public string Id { get; }

    public string Question { get; }

    /// <summary>What in a plan or at the bench follows from it.</summary>
    public string Touches { get; }

    /// <summary>The schools; the first is the default.</summary>
    public IReadOnlyList<School> Schools { get; }

    public School Default => Schools[0];

    public School? Find(string schoolId) => Schools.FirstOrDefault(s => s.Id == schoolId);
}

/// <summary>A question whose answers the program can tell apart.</summary>
/// <typeparam name="TSchool">One member a school, in the order of <see cref="HouseRule.Schools"/>; 0 is the default.</typeparam>
public sealed class HouseRule<TSchool> : HouseRule
    where TSchool : struct, Enum
{
    internal HouseRule(string id, string question, string touches, params School[] schools)
        : base(id, question, touches, schools)
    {
        if (schools.Length != Enum.GetValues<TSchool>().Length)
        {
            throw new ArgumentException($"{id}: one school a member of {typeof(TSchool).Name}", nameof(schools));
        }
    }

    internal TSchool Read(string schoolId) =>
        Enum.GetValues<TSchool>()[Schools.Index().First(s => s.Item.Id == schoolId).Index];

    internal School Of(TSchool school) => Schools[Array.IndexOf(Enum.GetValues<TSchool>(), school)];
}
