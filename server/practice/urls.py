from django.urls import path

from server.practice import views

urlpatterns = [
    path("practice", views.PracticeView.as_view()),
    path("practice/rounds", views.RoundsView.as_view()),
    path("practice/rounds/<uuid:round_id>", views.RoundView.as_view()),
    path("practice/rounds/<uuid:round_id>/answers/<int:number>", views.AnswerView.as_view()),
    path("practice/rounds/<uuid:round_id>/pictures/<int:number>", views.PracticePictureView.as_view()),
    path("practice/ramps", views.RampsView.as_view()),
]
