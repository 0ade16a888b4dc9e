import { describe, expect, it } from 'vitest';
import { TestBed } from '@angular/core/testing';
import { By } from '@angular/platform-browser';
import { Choice, type ChoiceOption } from '../../../ui/form/choice';
import { ChoiceWord } from './choice-word';

const choices = (...values: string[]) => values.map((value) => ({ value, text: `by ${value}` }));

describe('a word with a few others in its place', () => {
  const drawn = () => {
    const fixture = TestBed.createComponent(ChoiceWord);
    const set = (all: ChoiceOption[]) => {
      fixture.componentRef.setInput('choices', all);
      fixture.detectChanges();
      return (fixture.debugElement.query(By.directive(Choice)).componentInstance as Choice).options();
    };
    fixture.componentRef.setInput('label', 'How');
    fixture.componentRef.setInput('value', 'points');
    return set;
  };

  it('leaves its box the list that it has while another draft has the same choices', () => {
    const set = drawn();
    const first = set(choices('points', 'weights'));
    expect(set(choices('points', 'weights'))).toBe(first);
  });

  it('gives its box another list where a choice came, went, or is called otherwise', () => {
    const set = drawn();
    set(choices('points', 'weights'));
    expect(set(choices('points', 'weights', 'shares'))).toHaveLength(3);
    expect(set(choices('points'))).toEqual(choices('points'));
    const called = [{ value: 'points', text: 'each by its points' }];
    expect(set(called)).toEqual(called);
    expect(set([{ ...called[0]!, disabled: true }])).toEqual([{ ...called[0]!, disabled: true }]);
  });
});
