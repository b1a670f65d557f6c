using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class OwnPasswordsAndScopes : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<bool>(
                name: "must_change_password",
                table: "technicians",
                type: "boolean",
                nullable: false,
                defaultValue: false
            );

            migrationBuilder.AddColumn<string[]>(
                name: "scopes",
                table: "api_tokens",
                type: "text[]",
                nullable: false,
                defaultValue: new string[0]
            );

            // Tokens there are keep what they could do; a new one is told what for.
            migrationBuilder.Sql("UPDATE api_tokens SET scopes = ARRAY['read', 'counter', 'bench', 'stores', 'house']");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(name: "must_change_password", table: "technicians");

            migrationBuilder.DropColumn(name: "scopes", table: "api_tokens");
        }
    }
}
