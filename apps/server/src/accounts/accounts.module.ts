import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Account, KnownBrowser, Session } from './account.entity';
import { AccountsController } from './accounts.controller';
import { AccountsService } from './accounts.service';
import { GuessesService } from './guesses.service';

@Module({
  imports: [TypeOrmModule.forFeature([Account, KnownBrowser, Session])],
  controllers: [AccountsController],
  providers: [AccountsService, GuessesService],
  exports: [AccountsService],
})
export class AccountsModule {}
