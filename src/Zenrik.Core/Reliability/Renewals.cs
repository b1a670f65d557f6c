namespace Zenrik.Core.Reliability;

/// <summary>How often a part is exchanged within a time when a new one goes in each time it fails.</summary>
public static class Renewals
{
    /// <summary>Steps the time is cut into; the answer is then within a hundredth of exchanges for laws of wear.</summary>
    private const int Steps = 64;

    /// <summary>
    /// The renewal equation by the midpoint rule (M. Xie, "On the solution of renewal-type integral equations",
    /// Communications in Statistics: Simulation and Computation 18 (1989) 281; from memory).
    /// </summary>
    /// <param name="failsWithin">Of the part there is: the chance that it fails within so many days from now, rising from 0.</param>
    /// <param name="newFailsWithin">The same of a new one.</param>
    /// <param name="days">How far ahead; above 0.</param>
    /// <returns>On the average, of the part there is and of a new one put in now.</returns>
    public static (double Left, double Exchanged) Expected(
        Func<double, double> failsWithin,
        Func<double, double> newFailsWithin,
        double days
    )
    {
        var step = days / Steps;
        // New(k) is asked for at whole and half steps only.
        var fresh = Enumerable.Range(0, (2 * Steps) + 1).Select(i => newFailsWithin(i * step / 2)).ToArray();
        var renewals = new double[Steps + 1];
        for (var i = 1; i <= Steps; i++)
        {
            var sum = 0.0;
            for (var j = 1; j < i; j++)
            {
                sum += (renewals[j] - renewals[j - 1]) * fresh[(2 * (i - j)) + 1];
            }

            renewals[i] = (fresh[2 * i] + sum - (fresh[1] * renewals[i - 1])) / (1 - fresh[1]);
        }

        var left = failsWithin(days);
        for (var j = 1; j <= Steps; j++)
        {
            left += (renewals[j] - renewals[j - 1]) * failsWithin(days - ((j - 0.5) * step));
        }

        return (left, renewals[Steps]);
    }
}
