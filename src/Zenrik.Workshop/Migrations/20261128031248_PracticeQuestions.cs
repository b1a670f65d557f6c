using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class PracticeQuestions : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "questions",
                table: "practice_runs",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'[]'::jsonb"
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(name: "questions", table: "practice_runs");
        }
    }
}
