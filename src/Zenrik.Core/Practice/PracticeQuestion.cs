using System.Text.Json.Serialization;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Practice;

/// <summary>Something asked without a machine being taken apart. It is kept with its run, so it stays what it was.</summary>
/// <param name="Asked">The question.</param>
/// <param name="Topic">What it trains (<see cref="Topics"/>).</param>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "is")]
[JsonDerivedType(typeof(Choose), "choose")]
[JsonDerivedType(typeof(Open), "open")]
public abstract record PracticeQuestion(string Asked, string Topic)
{
    /// <summary>One of some is right.</summary>
    /// <param name="Facts">What is known, a line each.</param>
    public sealed record Choose(
        string Asked,
        string Topic,
        IReadOnlyList<string> Facts,
        IReadOnlyList<PracticeChoice> Choices
    ) : PracticeQuestion(Asked, Topic);

    /// <summary>A joint is opened by doing what the hand does.</summary>
    /// <param name="Mirrored">True when it is drawn with its lead to the right.</param>
    public sealed record Open(string Asked, string Topic, JointKind Joint, bool Mirrored)
        : PracticeQuestion(Asked, Topic);
}

/// <summary>One answer there is to choose.</summary>
/// <param name="Id">Unique within its question.</param>
/// <param name="Detail">What is known of it; empty: nothing more.</param>
/// <param name="Why">Why it is right or wrong, a sentence.</param>
public sealed record PracticeChoice(string Id, string Text, string Detail, bool Right, string Why);

/// <summary>A question answered.</summary>
/// <param name="Given">What the learner said or did.</param>
/// <param name="Why">Why it is right or wrong.</param>
public sealed record Answered(PracticeQuestion Question, string Given, bool IsRight, string Why);

/// <summary>Some questions, one after the other. The same answers give the same judgement.</summary>
public sealed class Quiz
{
    private readonly List<Answered> answers = [];
    private readonly IReadOnlyList<PracticeQuestion> questions;

    private Quiz(IReadOnlyList<PracticeQuestion> questions) => this.questions = questions;

    /// <summary>The questions after some moves: an id of a choice, or a direction for a joint.</summary>
    /// <param name="questions">One at least.</param>
    public static Quiz After(IReadOnlyList<PracticeQuestion> questions, IEnumerable<string> moves)
    {
        var quiz = new Quiz(questions);
        foreach (var move in moves.Where(quiz.Takes))
        {
            quiz.Answer(move);
        }

        return quiz;
    }

    /// <summary>The question that is asked now; null when all are answered.</summary>
    public PracticeQuestion? Asked => answers.Count < questions.Count ? questions[answers.Count] : null;

    public int Count => questions.Count;

    /// <summary>The first question first.</summary>
    public IReadOnlyList<Answered> Answers => answers;

    /// <summary>How many movements of the joint that is asked for are done.</summary>
    public int Strokes { get; private set; }

    public bool Finished => Asked is null;

    /// <summary>Right answers in a hundred.</summary>
    public int Points => 100 * answers.Count(a => a.IsRight) / questions.Count;

    /// <summary>By topic, whether everything asked of it was right.</summary>
    public IReadOnlyDictionary<string, bool> Trained =>
        answers.GroupBy(a => a.Question.Topic).ToDictionary(g => g.Key, g => g.All(a => a.IsRight));

    /// <summary>True when a text can be an answer to what is asked.</summary>
    public bool Takes(string text) =>
        Asked switch
        {
            PracticeQuestion.Choose choose => choose.Choices.Any(c => c.Id == text),
            PracticeQuestion.Open => DirectionOf(text) is not null,
            _ => false,
        };

    private void Answer(string text)
    {
        switch (Asked)
        {
            case PracticeQuestion.Choose choose:
                var choice = choose.Choices.First(c => c.Id == text);
                answers.Add(new Answered(choose, choice.Text, choice.Right, choice.Why));
                break;
            case PracticeQuestion.Open open:
                Move(open, DirectionOf(text)!.Value);
                break;
        }
    }

    private void Move(PracticeQuestion.Open open, Direction direction)
    {
        var motion = JointMotion.Of(open.Joint);
        var handling = open.Joint.Handling();
        if (!motion[Strokes].Ways.Contains(open.Mirrored ? direction.Mirrored() : direction))
        {
            answers.Add(
                new Answered(
                    open,
                    direction.ToString().ToLowerInvariant(),
                    false,
                    $"Like that {Referee.Tears(open.Joint)}. {handling.Opens}"
                )
            );
            Strokes = 0;
        }
        else if (++Strokes == motion.Count)
        {
            answers.Add(new Answered(open, "opened", true, handling.Opens));
            Strokes = 0;
        }
    }

    private static Direction? DirectionOf(string text) =>
        Enum.TryParse<Direction>(text, ignoreCase: true, out var direction) && Enum.IsDefined(direction)
            ? direction
            : null;
}
