import { Module } from '@nestjs/common';
import { DocumentsService } from './documents.service';
import { VersionsService } from './versions.service';

@Module({ providers: [DocumentsService, VersionsService], exports: [DocumentsService, VersionsService] })
export class DocumentsModule {}
